<script lang="ts">
	import ClipboardCopy from '@lucide/svelte/icons/clipboard-copy';
	import Clapperboard from '@lucide/svelte/icons/clapperboard';
	import Package from '@lucide/svelte/icons/package';
	import X from '@lucide/svelte/icons/x';
	import { ticksToFrame } from '$core/time';
	import { READERS, type Readers } from '$core/formats/format';
	import { SHIPPING } from '$core/formats/registry';
	import { TRACK_PATHS } from '$core/tracks/track';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import FilmChoices from './film/FilmChoices.svelte';
	import { copyCommandLine, makeFilm } from './ship-commands';
	import PartBoundField from './PartBoundField.svelte';
	import ProfileList from './ProfileList.svelte';
	import type { ShipState } from './ship-state.svelte';

	/** What is shipped, how exactly, and the same as a command. */
	let { ship }: { ship: ShipState } = $props();
	const session = useSession();
	const HEADS: Readonly<Record<Readers, string>> = {
		engines: 'for games and engines',
		web: 'for pages and apps',
		tools: 'for tables and builds',
	};
</script>

<section class="flex min-h-0 flex-col border-rule max-md:border-b md:border-r" aria-label="what to ship">
	<div class="flex min-h-0 flex-1 flex-col gap-4 p-4 md:overflow-y-auto">
		{#if !ship.isFilm}
			<ProfileList {ship} />
			<div>
				<h2 class="sheet-title mb-1">Clips</h2>
				<ul class="rounded-md border border-rule bg-sheet">
					{#each session.project.clips as clip (clip.id)}
						<li class="border-b border-rule last:border-b-0">
							<label class="flex min-h-[28px] cursor-pointer items-center gap-2 px-2">
								<input
									type="checkbox"
									checked={!ship.left.has(clip.id)}
									onchange={() => ship.toggle(clip.id)}
								/>
								<span class="min-w-0 flex-1 truncate">{clip.name}</span>
								<span class="font-mono text-xs text-muted"
									>{writeNumber(ticksToFrame(clip.length, session.frameRate), 1)} f</span
								>
							</label>
						</li>
					{:else}
						<li class="px-2 py-1 text-muted">There is no clip yet: make one in Compose.</li>
					{/each}
				</ul>
			</div>
		{/if}
		<fieldset>
			<legend class="sheet-title mb-1">Format</legend>
			<div class="overflow-hidden rounded-md border border-rule bg-sheet">
				{#each READERS as readers (readers)}
					<p class="border-b border-rule bg-band px-2 text-xs text-muted" aria-hidden="true">
						{HEADS[readers]}
					</p>
					{#each SHIPPING.filter(({ ships }) => ships.for === readers) as format (format.id)}
						{@const isMeant = format.ships.spaces?.includes(session.doc.project.space) ?? true}
						<label
							class="flex min-h-[28px] items-start gap-2 border-b border-rule px-2 py-1 last:border-b-0 {isMeant
								? 'cursor-pointer'
								: 'text-muted'}"
							title={isMeant ? format.ships.about : 'for interface projects: this one is a world'}
						>
							<input
								type="radio"
								name="format"
								class="mt-1"
								checked={!ship.isFilm && ship.format === format}
								disabled={!isMeant}
								onchange={() => ship.chooseFormat(format)}
							/>
							<span class="min-w-0 flex-1"
								>{format.name} <span class="font-mono text-xs text-muted">{format.extensions[0]}</span>
								{#if (!ship.isFilm && ship.format === format) || !isMeant}
									<span class="block text-xs text-muted"
										>{isMeant ? format.ships.about : 'for interface projects: this one is a world'}</span
									>
								{/if}</span
							>
						</label>
					{/each}
				{/each}
				<p class="border-b border-rule bg-band px-2 text-xs text-muted" aria-hidden="true">to show</p>
				<label class="flex min-h-[28px] cursor-pointer items-start gap-2 px-2 py-1">
					<input type="radio" name="format" class="mt-1" bind:group={ship.isFilm} value={true} />
					<span class="min-w-0 flex-1"
						>Film or pictures <span class="font-mono text-xs text-muted">.gif .webm .png</span></span
					>
				</label>
			</div>
		</fieldset>
		{#if ship.isFilm}
			<FilmChoices film={ship.film} />
		{:else}
			{#if ship.format.ships.hasMotion}
				<div class="flex flex-col gap-1.5">
					<h2 class="sheet-title">Error bound</h2>
					<label class="flex items-center justify-between gap-2">
						<span>share of each path's range <span class="text-muted">(turns: of 180°)</span></span>
						<NumberField
							label="bound in percent of the range"
							field="ship-bound"
							value={ship.percent}
							unit=" %"
							digits={3}
							min={0.001}
							max={50}
							step={0.01}
							class="w-[84px]"
							oncommit={(v) => (ship.percent = v)}
						/>
					</label>
					<p class="text-muted">Or absolute; 0 means by the share.</p>
					{#each TRACK_PATHS as path (path)}
						<label class="flex items-center justify-between gap-2">
							<span>{path}</span>
							<NumberField
								label="bound of {path}"
								value={ship.own[path]}
								unit={ship.unitOf(path)}
								digits={4}
								min={0}
								max={1e6}
								step={0.001}
								class="w-[84px]"
								oncommit={(v) => (ship.own = { ...ship.own, [path]: v })}
							/>
						</label>
					{/each}
					{#each ship.parts.list(session.doc) as bound (`${bound.part} ${bound.path}`)}
						{@const name = `${session.doc.parts[bound.part].name}${bound.path === null ? '' : ` / ${bound.path}`}`}
						<div class="flex items-center justify-between gap-2">
							<span class="min-w-0 flex-1 truncate" title={name}>{name}</span>
							<PartBoundField {ship} {...bound} label="bound of {name}" />
							<button
								type="button"
								class="btn btn-square btn-plain !min-h-[24px] !w-[24px]"
								aria-label="take back the bound of {name}"
								onclick={() => ship.parts.choose({ ...bound, value: 0 })}><X size={13} /></button
							>
						</div>
					{/each}
				</div>
			{/if}
			<div class="flex flex-col gap-1">
				<h2 class="sheet-title">Options</h2>
				{#if ship.chosen.length > 1}
					<label class="flex min-h-[24px] items-center gap-2">
						<input type="checkbox" bind:checked={ship.perClip} />
						a file for each clip, in a zip
					</label>
				{/if}
				{#each ship.format.ships.switches as { id, says, excludes } (id)}
					<label class="flex min-h-[24px] items-center gap-2">
						<input
							type="checkbox"
							checked={ship.switches[id] ?? false}
							onchange={(event) => {
								const isOn = event.currentTarget.checked;
								const others = isOn && excludes ? { [excludes]: false } : {};
								ship.switches = { ...ship.switches, ...others, [id]: isOn };
							}}
						/>
						{says}
					</label>
				{/each}
				{#each ship.format.ships.numbers ?? [] as { id, says, unit, lowest, highest, initial, whole } (id)}
					<label class="flex items-center justify-between gap-2">
						<span>{says}</span>
						<NumberField
							label={says}
							value={ship.numbers[id] ?? initial(session.doc)}
							{unit}
							digits={whole ? 0 : 6}
							min={lowest}
							max={highest}
							step={highest > 1000 ? initial(session.doc) / 10 : 1}
							class="w-[84px]"
							oncommit={(v) => ship.setNumber(id, whole ? Math.round(v) : v)}
						/>
					</label>
				{/each}
			</div>
			<div>
				<h2 class="sheet-title mb-1">Command line</h2>
				<p class="flex items-start gap-1 rounded-md border border-rule bg-sheet p-2">
					<code class="min-w-0 flex-1 break-words font-mono text-xs">{ship.command}</code>
					<button
						type="button"
						class="btn btn-square btn-plain !min-h-[24px] !w-[24px]"
						aria-label="copy the command"
						onclick={() => copyCommandLine(ship)}><ClipboardCopy size={13} /></button
					>
				</p>
			</div>
		{/if}
	</div>
	<!-- However many formats there are, what this is all for is in sight. -->
	<div class="border-t border-rule p-3">
		{#if ship.isFilm}
			<button
				type="button"
				data-export
				class="btn btn-main min-h-[34px] w-full"
				disabled={ship.film.progress !== null || ship.film.cannot !== ''}
				onclick={() => makeFilm(ship)}
				><Clapperboard size={15} />{ship.film.progress === null
					? `Make ${ship.film.kind.name}`
					: 'Making frames …'}</button
			>
		{:else}
			<button
				type="button"
				data-export
				class="btn btn-main min-h-[34px] w-full"
				disabled={!ship.canWrite}
				onclick={() => ship.write()}
			>
				<Package size={15} />{ship.isWorking ? 'Exporting and reading back …' : `Export ${ship.format.name}`}
			</button>
		{/if}
	</div>
</section>

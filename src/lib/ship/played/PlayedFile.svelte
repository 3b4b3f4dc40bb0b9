<script lang="ts">
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import { ticksToSeconds } from '$player/time';
	import PoseStage from '$lib/stage/PoseStage.svelte';
	import { theme } from '$lib/ui/theme.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import type { Played } from './played.svelte';

	/** The written file as its readers show it, over what the project shows or beside it. */
	let { played }: { played: Played } = $props();
	const { transport } = $derived(played);
	const FACTORS = [1, 10, 100];

	const drawn = $derived(
		played.current && played.now ? { layout: played.current.layout, pose: played.now.drawn } : null,
	);
	const meant = $derived(
		played.current && played.now ? { layout: played.current.layout, pose: played.now.meant } : null,
	);
	const twin = $derived(
		played.current && played.now && !played.isBeside
			? { compiled: played.current, pose: played.now.meant, parts: played.apart }
			: null,
	);
	const clips = () => (played.current ? [played.current] : []);
	const seconds = (ticks: number) => writeNumber(ticksToSeconds(ticks), 2);
	const without = 'The table says how far the file is off all the same.';
</script>

<section class="mb-4 overflow-hidden rounded-md border border-rule" aria-label="the file as it plays">
	<div class="flex h-[280px]">
		{#key played}
			{#if played.isBeside}
				<div class="relative min-w-0 flex-1 border-r border-rule">
					<PoseStage
						doc={played.doc}
						posed={meant}
						{clips}
						theme={theme.value}
						label="the project"
						isAlone={false}
						{without}
					/>
					<p class="tag-line">the project</p>
				</div>
			{/if}
			<div class="relative min-w-0 flex-1">
				<PoseStage
					doc={played.doc}
					posed={drawn}
					{clips}
					{twin}
					theme={theme.value}
					label="the file"
					{without}
				/>
				<p class="tag-line" role="status">
					{#if played.problem}
						<span class="text-rust">The file cannot be played: {played.problem}</span>
					{:else if played.readBy === null}
						The file is being read …
					{:else}
						the file, read by {played.readBy}{played.factor === 1
							? ''
							: `; its error drawn ${played.factor} times${played.isBeside ? '' : ', pale: the project'}`}
					{/if}
				</p>
			</div>
		{/key}
	</div>
	<div class="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule px-3 py-1.5">
		<button
			type="button"
			class="btn btn-square"
			aria-label={transport.playing ? 'pause the file' : 'play the file'}
			disabled={played.readBy === null}
			onclick={() => transport.toggle()}
			>{#if transport.playing}<Pause size={15} />{:else}<Play size={15} />{/if}</button
		>
		{#if played.clips.length > 1}
			<select
				class="field w-[150px]"
				aria-label="clip that is played"
				value={played.clipId}
				onchange={(event) => played.choose(event.currentTarget.value)}
			>
				{#each played.clips as { id, name } (id)}<option value={id}>{name}</option>{/each}
			</select>
		{/if}
		<input
			type="range"
			class="min-w-[120px] flex-1 accent-(--moss)"
			aria-label="time in the clip"
			min="0"
			max={played.clip?.length ?? 0}
			step="any"
			value={transport.local}
			oninput={(event) => {
				transport.stop();
				transport.seek(event.currentTarget.valueAsNumber);
			}}
		/>
		<span class="font-mono text-xs">{seconds(transport.local)} / {seconds(played.clip?.length ?? 0)} s</span>
		<fieldset class="flex items-center gap-2">
			<legend class="sr-only">how often the error is drawn</legend>
			<span class="text-muted">error</span>
			{#each FACTORS as factor (factor)}
				<label class="flex min-h-[24px] items-center gap-1"
					><input
						type="radio"
						name="error-factor"
						value={factor}
						bind:group={played.factor}
					/>×{factor}</label
				>
			{/each}
		</fieldset>
		<label class="flex min-h-[24px] items-center gap-1"
			><input type="checkbox" bind:checked={played.isBeside} />side by side</label
		>
		{#if played.farthest}
			{@const { part, path, share } = played.farthest}
			<p class="w-full text-muted" data-farthest={share}>
				Now the file is off by <span class="font-mono text-ink">{writeNumber(100 * share, 0)} %</span> of the
				bound at most{share > 0 ? `: ${part}, ${path}` : ''}.{played.skipped
					? ` ${played.readBy} does not read ${played.skipped}: shown as the project has it.`
					: ''}
			</p>
		{/if}
	</div>
</section>

<style>
	.tag-line {
		position: absolute;
		bottom: 8px;
		left: 8px;
		max-width: calc(100% - 16px);
		padding: 0 8px;
		border-radius: 4px;
		background: color-mix(in srgb, var(--paper) 85%, transparent);
		font-size: 12px;
		pointer-events: none;
	}
</style>

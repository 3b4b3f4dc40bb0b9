<script lang="ts">
	import ClipboardCopy from '@lucide/svelte/icons/clipboard-copy';
	import Download from '@lucide/svelte/icons/download';
	import Package from '@lucide/svelte/icons/package';
	import { toast } from 'svelte-sonner';
	import type { Verified } from '$core/formats/gltf/verify';
	import type { ClipReport } from '$core/formats/gltf/write';
	import { ticksToFrame } from '$core/time';
	import { api } from '$lib/session/api';
	import { useSession } from '$lib/session/session.svelte';
	import { assetsOf } from '$core/document/assets';
	import { commandLine } from '$lib/ship/command-line';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import ProjectBar from '$lib/ui/ProjectBar.svelte';

	interface Exported {
		id: string;
		fileName: string;
		bytes: number;
		clips: ClipReport[];
		plainer: string[];
		verified: Verified;
	}

	const session = useSession();
	let left = $state.raw<ReadonlySet<string>>(new Set());
	let percent = $state(0.1);
	let own = $state<{ translation: number; rotation: number; scale: number }>({
		translation: 0,
		rotation: 0,
		scale: 0,
	});
	let curvesOnly = $state(false);
	let working = $state(false);
	let result = $state.raw<Exported | null>(null);
	/** The document that the result was made from: a later edit makes it old. */
	let madeFrom = $state.raw<unknown>(null);

	const chosen = $derived(session.clips.filter((clip) => !left.has(clip.id)));
	const world = $derived(session.doc.project.space === 'world');
	const paths = $derived(
		result?.clips.flatMap((clip) => clip.paths.map((path) => ({ clip: clip.name, ...path }))) ?? [],
	);
	const total = (pick: (path: (typeof paths)[number]) => number) =>
		paths.reduce((sum, path) => sum + pick(path), 0);
	const leftOut = $derived(
		result?.clips.flatMap((clip) => clip.leftOut.map((note) => `${clip.name}: ${note}`)) ?? [],
	);
	const counted = (count: number, one: string, many: string) => `${count} ${count === 1 ? one : many}`;
	const notices = $derived(
		[
			{
				title: `Left out: ${counted(leftOut.length, 'channel', 'channels')} that glTF's core cannot carry`,
				notes: leftOut,
			},
			{
				title: `Drawn plainer: ${counted(result?.plainer.length ?? 0, 'part', 'parts')}`,
				notes: result?.plainer ?? [],
			},
		].filter(({ notes }) => notes.length > 0),
	);
	const stale = $derived(result !== null && madeFrom !== session.doc);
	/** With pictures or models in it a project comes as a zip. */
	const fileName = $derived.by(() => {
		const { name } = session.doc.project;
		const plain =
			name
				.toLowerCase()
				.replace(/[^a-z0-9]+/g, '-')
				.replace(/^-|-$/g, '') || 'project';
		return `${plain}.hillock.${assetsOf(session.doc).size > 0 ? 'zip' : 'json'}`;
	});
	const line = $derived(
		commandLine({
			address: `${location.origin}/api/projects/${encodeURIComponent(session.projectId)}/file`,
			file: fileName,
			clip: chosen.length === session.clips.length ? 'all' : (chosen[0]?.name ?? 'all'),
			relative: percent / 100,
			own,
			curvesOnly,
		}),
	);

	async function ship() {
		working = true;
		await session.saver.flushed();
		const bounds = {
			relative: percent / 100,
			...Object.fromEntries(Object.entries(own).filter(([, value]) => value > 0)),
		};
		const from = session.doc;
		const answer = await api.export<Exported>(session.projectId, {
			clips: chosen.map((clip) => clip.id),
			target: 'gltf',
			bounds,
			curvesOnly,
		});
		working = false;
		if (!answer.ok) {
			toast.error(answer.problem.title, { description: answer.problem.detail, duration: 10_000 });
			return;
		}
		result = answer.value;
		madeFrom = from;
	}
	function toggle(id: string) {
		const next = new Set(left);
		if (!next.delete(id)) next.add(id);
		left = next;
	}
	const unit = (path: string) =>
		path === 'translation' ? (world ? ' m' : ' px') : path === 'rotation' ? '°' : '';
	const exact = (value: number) =>
		value === 0 ? '0' : value < 0.001 ? value.toExponential(1) : writeNumber(value, 4);
	const kilo = (bytes: number) => (bytes < 1000 ? `${bytes} B` : `${writeNumber(bytes / 1000, 1)} kB`);
</script>

<svelte:head><title>Ship · {session.doc.project.name} · Hillock</title></svelte:head>

<div class="flex h-screen flex-col">
	<ProjectBar />
	<main class="grid min-h-0 flex-1 grid-cols-[320px_1fr]">
		<section
			class="flex min-h-0 flex-col gap-4 overflow-y-auto border-r border-rule p-4"
			aria-label="what to ship"
		>
			<div>
				<h2 class="sheet-title mb-1">Clips</h2>
				<ul class="rounded-md border border-rule bg-sheet">
					{#each session.clips as clip (clip.id)}
						<li class="border-b border-rule last:border-b-0">
							<label class="flex min-h-[28px] cursor-pointer items-center gap-2 px-2">
								<input type="checkbox" checked={!left.has(clip.id)} onchange={() => toggle(clip.id)} />
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
			<div class="flex flex-col gap-1.5">
				<h2 class="sheet-title">Bound</h2>
				<label class="flex items-center justify-between gap-2">
					<span>of each path's range <span class="text-muted">(turns: of 180°)</span></span>
					<NumberField
						label="bound in percent of the range"
						value={percent}
						unit=" %"
						digits={3}
						min={0.001}
						max={50}
						step={0.01}
						class="w-[84px]"
						oncommit={(v) => (percent = v)}
					/>
				</label>
				<p class="text-muted">Or in a path's own units; 0 leaves it to the share above.</p>
				{#each ['translation', 'rotation', 'scale'] as const as path (path)}
					<label class="flex items-center justify-between gap-2">
						<span>{path}</span>
						<NumberField
							label="bound of {path}"
							value={own[path]}
							unit={unit(path)}
							digits={4}
							min={0}
							max={1e6}
							step={0.001}
							class="w-[84px]"
							oncommit={(v) => (own = { ...own, [path]: v })}
						/>
					</label>
				{/each}
			</div>
			<label class="flex items-center gap-2">
				<input type="checkbox" bind:checked={curvesOnly} />
				curves only, no drawings
			</label>
			<button
				type="button"
				class="btn btn-main min-h-[34px]"
				disabled={working || chosen.length === 0}
				onclick={ship}
			>
				<Package size={15} />{working ? 'Writing and reading back …' : 'Write glTF'}
			</button>
			<div>
				<h2 class="sheet-title mb-1">The same in a build</h2>
				<p class="flex items-start gap-1 rounded-md border border-rule bg-sheet p-2">
					<code class="min-w-0 flex-1 break-words font-mono text-xs">{line}</code>
					<button
						type="button"
						class="btn btn-square btn-plain !min-h-6 !w-6"
						aria-label="copy the command"
						onclick={() =>
							navigator.clipboard.writeText(line).then(
								() => toast('Copied'),
								() => toast.error('The browser does not let this page copy'),
							)}><ClipboardCopy size={13} /></button
					>
				</p>
				{#if chosen.length > 1 && chosen.length < session.clips.length}
					<p class="mt-1 text-muted">The command line takes one clip or all.</p>
				{/if}
			</div>
		</section>
		<section class="min-h-0 overflow-y-auto p-4" aria-label="what was written">
			{#if result}
				<div class="mb-4 flex flex-wrap items-start gap-x-5 gap-y-2">
					<div>
						<h1 class="text-lg font-bold">{result.fileName}</h1>
						<p class="text-muted">{kilo(result.bytes)} in all, drawings included</p>
					</div>
					<p>
						<span class="block font-mono text-base font-semibold">{kilo(total((p) => p.bytes))}</span><span
							class="text-muted">curves</span
						>
					</p>
					<p>
						<span class="block font-mono text-base font-semibold"
							>{writeNumber(
								(100 * total((p) => p.bytes)) /
									Math.max(
										1,
										total((p) => p.bakedBytes),
									),
								1,
							)} %</span
						><span class="text-muted">of keys at 60 Hz ({kilo(total((p) => p.bakedBytes))})</span>
					</p>
					<p>
						<span class="block font-mono text-base font-semibold"
							>{writeNumber(100 * result.verified.worstShare, 1)} %</span
						><span class="text-muted"
							>of the bound, read back{result.verified.measuredOnly > 0
								? '; formulas (≈) are measured closely, not guaranteed'
								: ''}</span
						>
					</p>
					{#if result.verified.origin}
						<p>
							<span class="block font-mono text-base font-semibold"
								>{exact(result.verified.origin.error)}{unit('translation')}</span
							><span class="text-muted">{result.verified.origin.part}: farthest off</span>
						</p>
					{/if}
					<a
						class="btn btn-main ml-auto min-h-[34px]"
						href="/api/exports/{result.id}"
						download={result.fileName}><Download size={15} />Save {result.fileName}</a
					>
				</div>
				{#if stale}<p class="mb-3 rounded-md border border-rust px-3 py-1.5 text-rust" role="status">
						The project has changed since: write again for the newest.
					</p>{/if}
				{#each notices as { title, notes } (title)}
					<details class="mb-3 rounded-md border border-rule px-3 py-1.5">
						<summary class="cursor-pointer font-semibold">{title}</summary>
						<ul class="mt-1 list-disc pl-5">
							{#each notes as note (note)}<li>{note}</li>{/each}
						</ul>
					</details>
				{/each}
				<table class="w-full border-collapse">
					<thead class="text-left text-muted">
						<tr class="border-b border-rule">
							<th class="py-1 pr-3 font-normal">clip</th><th class="pr-3 font-normal">part</th><th
								class="pr-3 font-normal">path</th
							><th class="pr-3 font-normal">written as</th>
							<th class="pr-3 text-right font-normal">keys</th><th class="pr-3 text-right font-normal"
								>bytes</th
							><th class="pr-3 text-right font-normal">of 60 Hz</th><th class="pr-3 text-right font-normal"
								>largest error</th
							><th class="pr-3 text-right font-normal">at</th><th class="w-[90px] font-normal"
								>of its bound</th
							>
						</tr>
					</thead>
					<tbody>
						{#each paths as path (path.clip + path.part + path.path)}
							<tr class="border-b border-rule">
								<td class="py-0.5 pr-3">{path.clip}</td><td class="pr-3 font-semibold">{path.part}</td><td
									class="pr-3">{path.path}</td
								>
								<td class="pr-3">{path.encoding}{path.exact ? ', as it is' : ''}</td>
								<td class="pr-3 text-right font-mono text-xs">{path.keys}</td><td
									class="pr-3 text-right font-mono text-xs">{path.bytes}</td
								>
								<td class="pr-3 text-right font-mono text-xs"
									>{writeNumber((100 * path.bytes) / path.bakedBytes, 1)} %</td
								>
								<td
									class="pr-3 text-right font-mono text-xs"
									title={path.guaranteed
										? undefined
										: 'Computed by a formula: the largest of 480 places a second, not guaranteed between them'}
									>{path.guaranteed ? '' : '≈ '}{exact(path.error)}{unit(path.path)}</td
								>
								<td class="pr-3 text-right font-mono text-xs">{writeNumber(path.errorAt, 2)} s</td>
								<td
									><span class="block h-[7px] overflow-hidden rounded-full bg-rule"
										><span
											class="block h-full bg-moss"
											style:width="{Math.min(100, (100 * path.error) / path.bound)}%"
										></span></span
									></td
								>
							</tr>
						{/each}
					</tbody>
				</table>
			{:else}
				<div class="flex h-full flex-col items-center justify-center gap-1 text-center text-muted">
					<p class="text-base font-semibold text-ink">Nothing written yet</p>
					<p class="max-w-[440px]">
						Choose the clips and how far the curves may be off. The file is read back by a reader of its own
						and measured against what you see in Compose.
					</p>
				</div>
			{/if}
		</section>
	</main>
</div>

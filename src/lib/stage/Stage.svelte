<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import Maximize from '@lucide/svelte/icons/maximize';
	import ScanSearch from '@lucide/svelte/icons/scan-search';
	import { evaluateRound, POSE_STRIDE } from '$core/clip/compile';
	import { AXES } from '$core/document/types';
	import { toast } from 'svelte-sonner';
	import { assetPath } from '$lib/session/api';
	import { kindOfFile, takeFile } from '$lib/session/part-files';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import type { GhostPose } from './ghosts';
	import MotionWay from './MotionWay.svelte';
	import { StageScene, type AxesOf, type ViewName } from './scene';
	import StageHandles from './StageHandles.svelte';
	import StageReference from './StageReference.svelte';
	import StageToggle from './StageToggle.svelte';

	let { theme, onhint }: { theme: string; onhint: (hint: string) => void } = $props();
	const session = useSession();

	let box: HTMLElement;
	let canvas: HTMLCanvasElement;
	let scene = $state.raw<StageScene | null>(null);
	let width = $state(0);
	let height = $state(0);
	let view = $state<ViewName>('perspective');
	let failed = $state(false);
	const isWorld = $derived(session.doc.project.space === 'world');
	/** The camera to look through: the picked one, else the first. */
	const eye = $derived.by(() => {
		if (session.part?.drawing.kind === 'camera') return session.part.id;
		return session.tree.find(({ part }) => part.drawing.kind === 'camera')?.part.id ?? null;
	});
	const views = $derived<ViewName[]>(
		isWorld ? ['perspective', 'front', 'side', 'top', ...(eye ? (['camera'] as const) : [])] : ['screen'],
	);

	/** Counts pictures: what stands over them moves with each. */
	let picture = $state(0);
	/** Whose axes the arms follow. */
	let axes = $state<AxesOf>('parent');
	const AXES_OF: readonly AxesOf[] = ['parent', 'part', 'world'];

	function colours() {
		const style = getComputedStyle(box);
		const read = (name: string) => style.getPropertyValue(name).trim();
		return {
			ink: read('--outline'),
			contour: read('--contour'),
			rust: read('--rust'),
			past: read('--heather'),
			coming: read('--lake'),
		};
	}

	onMount(() => {
		// A picture takes a moment to be made ready: the lanes are drawn first.
		let waiting = requestAnimationFrame(() => {
			waiting = requestAnimationFrame(start);
		});
		return () => {
			cancelAnimationFrame(waiting);
			scene?.destroy();
		};
	});

	function start() {
		try {
			scene = new StageScene(canvas, colours(), (asset) => assetPath(session.projectId, asset));
		} catch {
			failed = true;
			return;
		}
		scene.onrender = () => picture++;
		// Labels are drawn with the shipped font: again once it is there.
		void document.fonts.ready.then(() => scene && redraw());
		scene.setDocument(session.doc, session.tree);
		view = isWorld ? 'front' : 'screen';
	}

	function redraw() {
		scene?.setColours(colours());
		scene?.setDocument(session.doc, session.tree);
		if (session.compiled) scene?.setPose(session.compiled, session.pose, (id) => session.isHidden(id));
	}

	$effect(() => {
		void theme;
		// Only a change of the theme draws everything anew.
		if (scene) untrack(redraw);
	});
	$effect(() => {
		scene?.setDocument(session.doc, session.tree);
	});
	$effect(() => {
		if (scene && session.compiled)
			scene.setPose(session.compiled, session.pose, (id) => session.isHidden(id));
	});
	$effect(() => {
		scene?.resize(width, height);
	});
	$effect(() => {
		if (scene && width > 2) scene.setView(view);
	});
	$effect(() => {
		scene?.setEye(eye);
	});
	$effect(() => {
		// The last camera may be deleted while it is looked through.
		if (view === 'camera' && !eye) view = 'front';
	});
	$effect(() => {
		void session.tree;
		scene?.setPicked(session.partId);
	});

	/** Parts that move in the pinned version and hang on none that does. */
	const twins = $derived.by(() => {
		const compiled = session.pinnedClip;
		if (!compiled) return [];
		const moving = new Set([
			...compiled.channels.map(({ channel }) => channel.part),
			...compiled.formulas.order.map(({ formula }) => formula.part),
		]);
		return [...moving].filter((id) => {
			for (
				let at = session.doc.parts[id]?.parent ?? null;
				at !== null;
				at = session.doc.parts[at]?.parent ?? null
			)
				if (moving.has(at)) return false;
			return true;
		});
	});
	$effect(() => {
		const compiled = session.pinnedClip;
		if (!scene) return;
		if (!compiled) {
			scene.setTwin([], null, null);
			return;
		}
		scene.setTwin(twins, compiled, session.poseOf(compiled));
	});

	$effect(() => {
		const { compiled, clip, partId, transport } = session;
		if (!scene) return;
		if (
			!(session.showGhosts || session.showRest) ||
			!compiled ||
			!clip ||
			partId === null ||
			transport.playing ||
			!compiled.indexOfPart.has(partId)
		) {
			scene.setGhosts(null, null, []);
			return;
		}
		const step = frameToTicks(session.ghostStep, session.frameRate);
		const poses: GhostPose[] = [];
		if (session.showRest) poses.push({ pose: compiled.rest, past: true, distance: 0, outline: true });
		const count = session.ghostCount;
		for (let i = -count; session.showGhosts && i <= count; i++) {
			const t = transport.local + i * step;
			if (i === 0 || t < 0 || t > clip.length) continue;
			const pose = new Float64Array(session.pose.length);
			evaluateRound(compiled, t, 0, pose);
			poses.push({ pose, past: i < 0, distance: (Math.abs(i) - 1) / count });
		}
		scene.setGhosts(partId, compiled, poses);
	});

	function poseOf(part: string): Float64Array {
		const index = session.compiled?.indexOfPart.get(part) ?? 0;
		return session.pose.subarray(index * POSE_STRIDE, (index + 1) * POSE_STRIDE);
	}

	/** Screens in CSS pixels, with their upper left corner at the origin. */
	const SCREENS = [
		{ name: 'small phone', width: 360, height: 640 },
		{ name: 'phone', width: 390, height: 844 },
		{ name: 'phone lying', width: 844, height: 390 },
		{ name: 'tablet', width: 820, height: 1180 },
		{ name: 'laptop', width: 1440, height: 900 },
		{ name: 'full HD', width: 1920, height: 1080 },
	];
	let screenName = $state('');
	const outline = $derived.by(() => {
		void picture;
		const screen = SCREENS.find(({ name }) => name === screenName);
		if (!scene || !screen || isWorld) return null;
		const { x, y } = scene.projectWorld(0, 0, 0);
		const far = scene.projectWorld(screen.width, screen.height, 0);
		return { name: screen.name, x, y, width: Math.max(0, far.x - x), height: Math.max(0, far.y - y) };
	});

	let isOver = $state(false);
	function ondrop(event: DragEvent) {
		const file = event.dataTransfer?.files[0];
		isOver = false;
		if (!file) return;
		event.preventDefault();
		const kind = kindOfFile(file);
		if (kind) void takeFile(session, kind, file);
		else
			toast.error('This file makes no part', {
				description: 'Pictures, SVG drawings and glTF models do; films and sounds go on the clip card.',
			});
	}

	const MOVES: ReadonlySet<string> = new Set(['translation', 'rotation', 'orientation']);

	let press: { x: number; y: number } | null = null;
	function onclick(event: MouseEvent) {
		if (!scene || !press) return;
		if (Math.hypot(event.clientX - press.x, event.clientY - press.y) > 4) return;
		const { x, y } = scene.placeOf(event);
		session.pickPart(scene.pick(x, y));
	}

	const readout = $derived.by(() => {
		if (!session.part || !session.compiled) return null;
		const pose = poseOf(session.part.id);
		const unit = isWorld ? 'm' : 'px';
		const place = AXES.map((axis, i) => `${axis} ${writeNumber(pose[i], isWorld ? 2 : 0)}`).join('  ');
		const turns = AXES.flatMap((axis, i) =>
			Math.abs(pose[3 + i]) > 0.005 ? [`${axis} ${writeNumber(pose[3 + i], 1)}°`] : [],
		);
		const turned = turns.length > 0 ? ` · turned ${turns.join(' ')}` : '';
		return `${session.part.name} · ${place} ${unit}${turned}${sinceKey(pose, unit)}`;
	});

	/** How far it has come since its key before the playhead. */
	function sinceKey(pose: Float64Array, unit: string): string {
		const { compiled, part, transport } = session;
		if (!compiled || !part || transport.playing) return '';
		const before = [...compiled.channels, ...compiled.vectors]
			.filter(({ channel }) => channel.part === part.id && MOVES.has(channel.property))
			.flatMap(({ channel }) =>
				channel.keys.map((key) => key.t).filter((t) => t < Math.round(transport.local)),
			);
		if (before.length === 0) return '';
		const t = Math.max(...before);
		const then = new Float64Array(session.pose.length);
		evaluateRound(compiled, t, 0, then);
		const at = compiled.indexOfPart.get(part.id)! * POSE_STRIDE;
		const changes = (from: number, least: number, digits: number) =>
			AXES.flatMap((axis, k) => {
				const change = pose[from + k] - then[at + from + k];
				const sign = change > 0 ? '+' : '';
				return Math.abs(change) < least ? [] : [`${axis} ${sign}${writeNumber(change, digits)}`];
			});
		const moved = isWorld ? changes(0, 0.005, 2) : changes(0, 0.5, 0);
		const turned = changes(3, 0.05, 1).map((text) => `${text}°`);
		const parts = [
			...(moved.length > 0 ? [`${moved.join('  ')} ${unit}`] : []),
			...(turned.length > 0 ? [`turned ${turned.join(' ')}`] : []),
		];
		const frame = writeNumber(ticksToFrame(t, session.frameRate), 1);
		return parts.length > 0 ? ` · since f ${frame}: ${parts.join(', ')}` : '';
	}
</script>

<section
	bind:this={box}
	bind:clientWidth={width}
	bind:clientHeight={height}
	class="relative h-full min-h-0 overflow-hidden bg-sky {session.autoKey
		? 'shadow-[inset_0_0_0_3px_var(--rust)]'
		: ''} {isOver ? 'outline-2 -outline-offset-4 outline-moss' : ''}"
	aria-label="stage"
	ondragover={(event) => {
		if (!event.dataTransfer?.types.includes('Files')) return;
		event.preventDefault();
		isOver = true;
	}}
	ondragleave={() => (isOver = false)}
	{ondrop}
>
	<svg
		class="pointer-events-none absolute inset-0 size-full"
		preserveAspectRatio="none"
		viewBox="0 0 480 320"
		aria-hidden="true"
	>
		{#each [0, 1, 2, 3, 4, 5] as i (i)}
			<path
				d="M0 {70 + i * 34} C 90 {34 + i * 36}, 150 {112 + i * 27}, 250 {76 + i * 34} S 400 {44 +
					i * 38}, 480 {86 + i * 31}"
				fill="none"
				stroke="var(--contour)"
				stroke-width="1"
			/>
		{/each}
	</svg>
	{#if scene && session.clip?.reference}
		<StageReference {scene} {picture} reference={session.clip.reference} />
	{/if}
	<canvas
		bind:this={canvas}
		class="absolute inset-0 size-full touch-none"
		aria-hidden="true"
		data-stage-canvas
		onpointerdown={(event) => (press = { x: event.clientX, y: event.clientY })}
		onpointermove={() =>
			onhint(
				isWorld && view === 'perspective'
					? 'click: pick a part; drag: turn the view; wheel: nearer'
					: 'click: pick a part; drag: move the view; wheel: nearer',
			)}
		{onclick}
	></canvas>
	{#if scene && outline}
		<svg class="pointer-events-none absolute inset-0 size-full" aria-hidden="true" data-screen-outline>
			<rect
				x={outline.x}
				y={outline.y}
				width={outline.width}
				height={outline.height}
				rx="6"
				fill="none"
				stroke="var(--muted)"
				stroke-width="1.5"
				stroke-dasharray="6 4"
			/>
			<text x={outline.x + 6} y={outline.y + 14} font-size="11" fill="var(--muted)">{outline.name}</text>
		</svg>
	{/if}
	{#if scene}
		{#if session.showPath}<MotionWay {scene} {picture} {onhint} />{/if}
		<StageHandles {scene} {picture} {axes} {onhint} />
	{/if}
	<div class="absolute left-2 top-2 flex gap-1" role="group" aria-label="view">
		{#if views.length > 1}
			{#each views as name (name)}
				<button
					type="button"
					class="rounded-md border px-2 py-0.5 text-xs {view === name
						? 'border-moss bg-sheet font-semibold'
						: 'border-rule bg-paper text-muted'}"
					aria-pressed={view === name}
					onclick={() => (view = name)}>{name}</button
				>
			{/each}
		{/if}
		<button
			type="button"
			class="rounded-md border border-rule bg-paper px-1.5 py-0.5 text-muted"
			aria-label="show everything"
			title="Show everything"
			onclick={() => scene?.fit()}
		>
			<Maximize size={13} />
		</button>
		<button
			type="button"
			class="rounded-md border border-rule bg-paper px-1.5 py-0.5 text-muted disabled:opacity-40"
			aria-label="show the picked part near"
			title="Show the picked part near"
			disabled={!session.part || view === 'camera'}
			onclick={() => session.part && scene?.fit(session.part.id)}
		>
			<ScanSearch size={13} />
		</button>
		{#if !isWorld}
			<select
				class="field !min-h-[22px] max-w-[130px] text-xs"
				aria-label="outline of a screen"
				bind:value={screenName}
			>
				<option value="">no screen outline</option>
				{#each SCREENS as screen (screen.name)}<option value={screen.name}
						>{screen.name}, {screen.width} × {screen.height}</option
					>{/each}
			</select>
		{/if}
	</div>
	<div class="absolute right-2 top-2 flex items-center gap-1" role="group" aria-label="what is shown">
		<StageToggle
			label="path"
			title="The way of the picked part, a dot a frame (Y)"
			on={session.showPath}
			onclick={() => (session.showPath = !session.showPath)}
		/>
		{#if session.showPath && session.part?.parent}
			<StageToggle
				label="in parent"
				title="The way as {session.doc.parts[session.part.parent]
					?.name} sees it, which carries it; else as the world does"
				on={session.pathInParent}
				onclick={() => (session.pathInParent = !session.pathInParent)}
			/>
		{/if}
		<StageToggle
			label="ghosts"
			title="The picked part before and after the playhead (U)"
			on={session.showGhosts}
			onclick={() => (session.showGhosts = !session.showGhosts)}
		/>
		{#if session.showGhosts}
			<NumberField
				label="ghosts on each side"
				value={session.ghostCount}
				unit=" ×"
				digits={0}
				min={1}
				max={12}
				class="w-[40px] !min-h-[22px] !px-1"
				onpreview={(v) => (session.ghostCount = Math.round(v))}
				oncommit={(v) => (session.ghostCount = Math.round(v))}
			/>
			<NumberField
				label="frames between ghosts"
				value={session.ghostStep}
				unit=" f"
				digits={0}
				min={1}
				max={120}
				class="w-[44px] !min-h-[22px] !px-1"
				onpreview={(v) => (session.ghostStep = Math.round(v))}
				oncommit={(v) => (session.ghostStep = Math.round(v))}
			/>
		{/if}
		<StageToggle
			label="rest"
			title="The picked part as it rests, as an outline"
			on={session.showRest}
			onclick={() => (session.showRest = !session.showRest)}
		/>
	</div>
	<div class="absolute right-2 top-9 flex items-center gap-1">
		<button
			type="button"
			class="rounded-md border border-rule bg-paper px-2 py-0.5 text-xs text-muted"
			aria-label="handles follow the axes of the {axes === 'world' ? 'world' : axes}: change"
			title="Whose axes the arms follow: the parent's (as in the lanes), the part's own, or the world's"
			onclick={() => (axes = AXES_OF[(AXES_OF.indexOf(axes) + 1) % AXES_OF.length])}>axes: {axes}</button
		>
		<span class="rounded-md border border-rule bg-paper px-2 py-0.5 text-xs text-muted"
			>grid {isWorld ? '1 m' : '100 px'}</span
		>
	</div>
	{#if readout}
		<p
			class="absolute bottom-2 left-2 rounded-md border border-rule bg-sheet px-2 py-0.5 font-mono text-xs"
			data-readout
		>
			{readout}
		</p>
	{/if}
	{#if failed}
		<p
			class="absolute inset-0 m-auto h-fit max-w-[320px] rounded-md border border-rule bg-sheet p-4 text-center"
		>
			This browser draws no WebGL, so there is no picture. Lanes, bench and export work all the same.
		</p>
	{/if}
</section>

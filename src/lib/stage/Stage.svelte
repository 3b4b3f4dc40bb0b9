<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { toast } from 'svelte-sonner';
	import { addresses } from '$lib/api/client';
	import { bringRecording, isRecordingFile } from '$lib/acts/bring-recording';
	import { kindOfFile, takeFile } from '$lib/acts/part-files';
	import { recorderOf } from '$lib/acts/recorder.svelte';
	import { takeReference } from '$lib/acts/reference-files';
	import { takeWorkOf } from '$lib/acts/take-work.svelte';
	import { rawPose, rootsOf } from './raw-twin';
	import { movingRoots, standAlike } from './twins';
	import { useSession } from '$lib/session/session.svelte';
	import { poseAt } from '$core/clip/compile';
	import { frameToTicks } from '$core/time';
	import type { GhostPose } from './ghosts';
	import MotionPath from './MotionPath.svelte';
	import RecordLayer from './RecordLayer.svelte';
	import { StageScene } from './scene';
	import ScreenOutline from './ScreenOutline.svelte';
	import { stageColours } from './stage-colours';
	import StageGround from './StageGround.svelte';
	import StageBar from './StageBar.svelte';
	import StageHandles from './StageHandles.svelte';
	import StageReadout from './StageReadout.svelte';
	import StageReference from './StageReference.svelte';

	let { theme, onhint }: { theme: string; onhint: (hint: string) => void } = $props();
	const session = useSession();
	const { look } = session.view;
	const recorder = recorderOf(session);
	const work = takeWorkOf(session);

	let box: HTMLElement;
	let canvas: HTMLCanvasElement;
	let scene = $state.raw<StageScene | null>(null);
	let width = $state(0);
	let height = $state(0);
	/** Not read for its size: a view stays as it was turned while the pane is resized. */
	const isLaidOut = $derived(width > 2);
	let failed = $state(false);
	const isWorld = $derived(session.doc.project.space === 'world');
	/** The camera to look through: the one that was picked last, else the first. */
	const eye = $derived.by(() => {
		const cameras = session.project.tree.filter(({ part }) => part.drawing.kind === 'camera');
		return (cameras.find(({ part }) => part.id === look.camera) ?? cameras[0])?.part.id ?? null;
	});
	$effect(() => {
		if (session.selection.part?.drawing.kind === 'camera') look.camera = session.selection.part.id;
	});

	/** So many are told. */
	const MOST_TOLD = 3;
	/** Parts whose files cannot be read. */
	let unread = $state.raw<ReadonlySet<string>>(new Set());
	const broken = $derived(
		[...unread].flatMap((id) => session.doc.parts[id] ?? []).filter(({ drawing }) => 'asset' in drawing),
	);

	/** Counts pictures: what stands over them moves with each. */
	let picture = $state(0);

	onMount(() => {
		// A picture takes a moment to be made ready: the lanes are drawn first.
		let waiting = requestAnimationFrame(() => {
			waiting = requestAnimationFrame(start);
		});
		return () => {
			cancelAnimationFrame(waiting);
			look.frame = () => {};
			look.standpoint = () => null;
			scene?.destroy();
			// What is still waited for finds no stage any more.
			scene = null;
		};
	});

	function start() {
		try {
			scene = new StageScene(canvas, stageColours(box), {
				assetPath: (asset) => addresses.asset(session.project.id, asset),
				told: (part, isRead) => {
					if (unread.has(part) === isRead)
						unread = new Set(isRead ? [...unread].filter((own) => own !== part) : [...unread, part]);
				},
			});
		} catch {
			failed = true;
			return;
		}
		scene.onrender = () => picture++;
		look.isSoftware = scene.picture.isSoftware;
		// Labels are drawn with the shipped font: again once it is there.
		void document.fonts.ready.then(() => scene && redraw());
		scene.setDocument(session.doc, session.project.tree);
		// In another layout it is looked at as before.
		if (isWorld === (look.view === 'screen')) look.view = isWorld ? 'front' : 'screen';
		look.frame = (part) => scene?.fit(part ?? undefined);
		look.standpoint = () => scene?.standpoint() ?? null;
	}

	function redraw() {
		scene?.setColours(stageColours(box));
		scene?.setDocument(session.doc, session.project.tree);
		scene?.setPose(session.posed, (id) => session.view.isHidden(id));
	}

	$effect(() => {
		void theme;
		// Only a change of the theme draws everything anew.
		if (scene) untrack(redraw);
	});
	$effect(() => {
		scene?.setDocument(session.doc, session.project.tree);
	});
	$effect(() => {
		// What rests stands where the document says.
		void session.project.tree;
		scene?.setPose(session.posed, (id) => session.view.isHidden(id));
	});
	$effect(() => {
		void session.clipId;
		const compiled = untrack(() => session.compiled);
		scene?.setClips(compiled ? [compiled] : []);
	});
	$effect(() => {
		scene?.resize(width, height);
	});
	$effect(() => {
		if (scene && isLaidOut) scene.setView(look.view);
	});
	$effect(() => {
		scene?.setLens(eye);
	});
	$effect(() => {
		// The last camera may be deleted while it is looked through.
		if (look.view === 'camera' && !eye) look.view = 'front';
	});
	$effect(() => {
		void session.project.tree;
		scene?.setPicked(session.selection.partId);
	});

	const twins = $derived(session.pinnedClip ? movingRoots(session.pinnedClip) : []);
	$effect(() => {
		const { pinnedClip, compiled } = session;
		if (!scene) return;
		if (!pinnedClip || !compiled) {
			// Where a take is looked at, what it says stands beside what its keys make of it.
			const { take, raw } = work;
			const pose =
				take && compiled && rawPose(take, raw, compiled, session.posed.pose, session.transport.local);
			if (pose) scene.setTwin(rootsOf(take, compiled), compiled, pose);
			else scene.setTwin([], null, null);
			return;
		}
		const pinned = { compiled: pinnedClip, pose: session.poseOf(pinnedClip) };
		const now = { compiled, pose: session.posed.pose };
		// A twin that stands where its part does would only hide it.
		const apart = twins.filter((part) => !standAlike(part, pinned, now));
		scene.setTwin(apart, pinned.compiled, pinned.pose);
	});

	$effect(() => {
		const { compiled, clip, transport } = session;
		const { partId } = session.selection;
		if (!scene) return;
		if (
			!(look.ghosts || look.rest) ||
			!compiled ||
			!clip ||
			partId === null ||
			transport.playing ||
			!compiled.indexOfPart.has(partId)
		) {
			scene.setGhosts(null, null, []);
			return;
		}
		const step = frameToTicks(look.ghostStep, session.frameRate);
		const poses: GhostPose[] = [];
		if (look.rest) poses.push({ pose: compiled.layout.rest, past: true, distance: 0, outline: true });
		const count = look.ghostCount;
		for (let i = -count; look.ghosts && i <= count; i++) {
			const t = transport.local + i * step;
			if (i === 0 || t < 0 || t > clip.length) continue;
			poses.push({ pose: poseAt(compiled, t), past: i < 0, distance: (Math.abs(i) - 1) / count });
		}
		scene.setGhosts(partId, compiled, poses);
	});

	let isOver = $state(false);
	function ondrop(event: DragEvent) {
		const file = event.dataTransfer?.files[0];
		isOver = false;
		if (!file) return;
		event.preventDefault();
		const kind = kindOfFile(file);
		if (kind) void takeFile(session, kind, file, scene?.standpoint(scene.placeOf(event)).middle);
		else if (/^(video|audio)\//.test(file.type)) void takeReference(session, file);
		else if (isRecordingFile(file)) void bringRecording(session, file);
		else
			toast.error('This file is nothing for a stage', {
				description:
					'Pictures, SVG drawings and glTF models become parts, films and sounds go with the clip, recordings (BVH, CSV) are laid on parts.',
			});
	}

	let handles = $state.raw<StageHandles | null>(null);
	let paths = $state.raw<MotionPath | null>(null);
	let press: { x: number; y: number } | null = null;
	function onclick(event: MouseEvent) {
		if (press && Math.hypot(event.clientX - press.x, event.clientY - press.y) <= 4) pickAt(event);
	}
	function pickAt(event: MouseEvent) {
		if (!scene) return;
		const { x, y } = scene.placeOf(event);
		const part = scene.pick(x, y, (own) => !session.view.lockedParts.has(own));
		if (!event.shiftKey) session.selection.pickPart(part);
		else if (part !== null) session.selection.togglePart(part);
	}
</script>

<section
	bind:this={box}
	bind:clientWidth={width}
	bind:clientHeight={height}
	class="relative h-full min-h-0 overflow-hidden bg-sky {session.isAutoKey
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
	<StageGround />
	{#if scene && session.clip?.reference}
		<StageReference {scene} {picture} reference={session.clip.reference} />
	{/if}
	<canvas
		bind:this={canvas}
		class="absolute inset-0 size-full touch-none"
		aria-hidden="true"
		data-stage-canvas
		onpointerdowncapture={(event) => {
			press = { x: event.clientX, y: event.clientY };
			// The body of the selected part is for moving it, all else for moving the view.
			if (handles?.grabBody(event)) event.stopImmediatePropagation();
		}}
		onpointermove={() =>
			onhint(
				look.view === 'perspective'
					? 'click: select a part, Shift: several; drag: turn the view; wheel: nearer'
					: 'click: select a part, Shift: several; drag: move the view; wheel: nearer',
			)}
		{onclick}
	></canvas>
	<!-- Before the first picture nothing has a place on it. -->
	{#if scene && picture > 0}
		{#if session.doc.project.screen && !isWorld}
			<ScreenOutline {scene} {picture} screen={session.doc.project.screen} />
		{/if}
		<!-- What is looked through has no place in its own picture, and what is recorded is not held by handles. -->
		{#if !recorder.isOn && (look.view !== 'camera' || session.selection.partId !== eye)}
			{#if look.path}<MotionPath bind:this={paths} {scene} {picture} {onhint} />{/if}
			<StageHandles
				bind:this={handles}
				{scene}
				{picture}
				axes={look.axes}
				{onhint}
				onmiss={pickAt}
				beneath={(event) => paths?.grabKey(event) ?? false}
			/>
		{/if}
	{/if}
	<StageBar camera={eye === null ? null : session.doc.parts[eye].name} />
	{#if broken.length > 0}
		<div
			class="absolute left-2 top-12 max-w-[300px] rounded-md border border-rust bg-sheet px-2 py-1 text-xs"
			role="status"
		>
			{#each broken.slice(0, MOST_TOLD) as { id, name, drawing } (id)}
				<p>
					<span class="text-rust"
						>The {drawing.kind === 'model' ? 'model' : 'picture'} of {name} cannot be shown.</span
					>
					<button
						type="button"
						class="min-h-[24px] underline underline-offset-2"
						onclick={() => session.selection.pickPart(id)}>Select {name}</button
					> to put in another file.
				</p>
			{/each}
			{#if broken.length > MOST_TOLD}<p>And {broken.length - MOST_TOLD} more.</p>{/if}
		</div>
	{/if}
	<StageReadout {scene} {picture} {height} />
	{#if scene}<RecordLayer {scene} />{/if}
	{#if failed}
		<p
			class="absolute inset-0 m-auto h-fit max-w-[320px] rounded-md border border-rule bg-sheet p-4 text-center"
		>
			This browser draws no WebGL, so there is no picture. Lanes, bench and export work all the same.
		</p>
	{/if}
</section>

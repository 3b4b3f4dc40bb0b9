<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { compileClip } from '$core/clip/compile';
	import { clipsNamed } from '$core/document/triggers';
	import { addresses } from '$lib/api/client';
	import { StageScene } from '$lib/stage/scene';
	import { stageColours } from '$lib/stage/stage-colours';
	import StageGround from '$lib/stage/StageGround.svelte';
	import ScreenOutline from '$lib/stage/ScreenOutline.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import type { Trial } from './trial.svelte';

	/** The parts as the player has them. A tap on one is a tap in the game. */
	let { trial, theme }: { trial: Trial; theme: string } = $props();
	const session = useSession();
	const isWorld = $derived(session.doc.project.space === 'world');

	let box: HTMLElement;
	let canvas: HTMLCanvasElement;
	let scene = $state.raw<StageScene | null>(null);
	let failed = $state(false);
	let picture = $state(0);
	let width = $state(0);
	let height = $state(0);
	/** The part that is pointed at, by its name in the file. */
	let pointed = $state<string | null>(null);

	/** The clips that triggers play, by themselves or mixed; without any, all. */
	function playedClips() {
		const { clips } = session.project;
		const { triggers, mixes } = session.doc;
		const named = Object.values(triggers).flatMap(clipsNamed);
		const played = new Set(named.flatMap((id) => mixes[id]?.stops.map(({ clip }) => clip) ?? [id]));
		return played.size > 0 ? clips.filter(({ id }) => played.has(id)) : clips;
	}
	onMount(() => {
		const waiting = requestAnimationFrame(() => {
			try {
				scene = new StageScene(canvas, stageColours(box), (asset) =>
					addresses.asset(session.project.id, asset),
				);
			} catch {
				failed = true;
				return;
			}
			scene.onrender = () => picture++;
			void document.fonts.ready.then(() => scene && redraw());
			scene.setDocument(session.doc, session.project.tree);
		});
		return () => {
			cancelAnimationFrame(waiting);
			scene?.destroy();
			scene = null;
		};
	});

	const never = () => false;
	function redraw() {
		scene?.setColours(stageColours(box));
		scene?.setDocument(session.doc, session.project.tree);
		if (trial.posed) scene?.setPose(trial.posed, never);
	}
	$effect(() => {
		void theme;
		if (scene) untrack(redraw);
	});
	$effect(() => {
		scene?.setDocument(session.doc, session.project.tree);
	});
	$effect(() => {
		void session.project.tree;
		if (trial.posed) scene?.setPose(trial.posed, never);
	});
	$effect(() => {
		scene?.resize(width, height);
	});
	/** Before the first pose all parts lie at one place, and there is nothing to bring into the picture. */
	const isShown = $derived(width > 2 && (trial.posed !== null || session.project.clips.length === 0));
	$effect(() => {
		if (!scene || !isShown) return;
		scene.setClips(untrack(() => playedClips().map((clip) => compileClip(session.doc, clip))));
		scene.setView(isWorld ? 'front' : 'screen');
	});

	/** The name in the file of the part under a pointer. */
	function partAt(event: MouseEvent): string | null {
		if (!scene || !trial.made) return null;
		const { x, y } = scene.placeOf(event);
		return trial.made.names.parts.get(scene.pick(x, y, () => true) ?? '') ?? null;
	}

	let press: { x: number; y: number } | null = null;
	function tap(event: MouseEvent) {
		if (!press || Math.hypot(event.clientX - press.x, event.clientY - press.y) > 6) return;
		const part = partAt(event);
		if (part !== null) trial.send({ kind: 'tap', part });
	}
	function point(part: string | null) {
		if (part === pointed) return;
		if (pointed !== null && trial.isBound('leave', pointed)) trial.send({ kind: 'leave', part: pointed });
		pointed = part;
		if (part !== null && trial.isBound('enter', part)) trial.send({ kind: 'enter', part });
	}
	const isTappable = $derived(pointed !== null && trial.isBound('tap', pointed));
</script>

<section
	bind:this={box}
	bind:clientWidth={width}
	bind:clientHeight={height}
	class="relative h-full min-h-0 overflow-hidden bg-sky"
	aria-label="stage"
>
	<StageGround />
	<canvas
		bind:this={canvas}
		class="absolute inset-0 size-full touch-none {isTappable ? 'cursor-pointer' : ''}"
		aria-hidden="true"
		data-stage-canvas
		onpointerdowncapture={(event) => (press = { x: event.clientX, y: event.clientY })}
		onpointermove={(event) => point(partAt(event))}
		onpointerleave={() => point(null)}
		onclick={tap}
	></canvas>
	{#if scene && picture > 0 && session.doc.project.screen && !isWorld}
		<ScreenOutline {scene} {picture} screen={session.doc.project.screen} />
	{/if}
	<button
		type="button"
		class="btn absolute right-2 top-2 !min-h-[24px] text-xs"
		title="Bring everything into the picture (F)"
		onclick={() => scene?.fit()}>Fit all</button
	>
	{#if pointed !== null}
		<p
			class="pointer-events-none absolute bottom-2 left-2 rounded bg-paper/85 px-2 py-0.5 text-xs"
			data-pointed
		>
			{pointed}{isTappable ? ' · tap' : ''}
		</p>
	{/if}
	{#if failed}
		<p
			class="absolute inset-0 m-auto h-fit max-w-[320px] rounded-md border border-rule bg-sheet p-4 text-center"
		>
			This browser draws no WebGL, so there is no picture. Triggers, charts and the log work all the same.
		</p>
	{/if}
</section>

<script lang="ts">
	import { onMount, untrack, type Snippet } from 'svelte';
	import type { HTMLCanvasAttributes } from 'svelte/elements';
	import type { CompiledClip } from '$core/clip/compile';
	import type { Posed } from '$core/clip/layout';
	import { partsInTree, type Doc } from '$core/document/types';
	import { addresses } from '$lib/api/client';
	import { StageScene } from './scene';
	import ScreenOutline from './ScreenOutline.svelte';
	import { stageColours } from './stage-colours';
	import StageGround from './StageGround.svelte';

	/** The parts of a document in a pose: to look at, not to be moved by hand. */
	let {
		doc,
		posed,
		clips,
		theme,
		label,
		without,
		isAlone = true,
		twin = null,
		scene = $bindable(null),
		canvasProps = {},
		children,
	}: {
		doc: Doc;
		/** Null before there is one. */
		posed: Posed | null;
		/** What is brought into the picture: all that these reach. */
		clips: () => readonly CompiledClip[];
		theme: string;
		label: string;
		/** What still works where no picture can be drawn. */
		without: string;
		/** Whether no other stage of the room shows the same. */
		isAlone?: boolean;
		/** Another pose of the parts named, in pale. */
		twin?: { compiled: CompiledClip; pose: Float64Array; parts: readonly string[] } | null;
		scene?: StageScene | null;
		canvasProps?: HTMLCanvasAttributes;
		children?: Snippet;
	} = $props();
	const isWorld = $derived(doc.project.space === 'world');
	const tree = $derived(partsInTree(doc));

	let box: HTMLElement;
	let canvas: HTMLCanvasElement;
	let failed = $state(false);
	let picture = $state(0);
	let width = $state(0);
	let height = $state(0);

	onMount(() => {
		const waiting = requestAnimationFrame(() => {
			try {
				scene = new StageScene(canvas, stageColours(box), {
					assetPath: (asset) => addresses.asset(doc.project.id, asset),
				});
			} catch {
				failed = true;
				return;
			}
			scene.onrender = () => picture++;
			void document.fonts.ready.then(() => scene && redraw());
			scene.setDocument(doc, tree);
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
		scene?.setDocument(doc, tree);
		if (posed) scene?.setPose(posed, never);
	}
	$effect(() => {
		void theme;
		if (scene) untrack(redraw);
	});
	$effect(() => {
		scene?.setDocument(doc, tree);
	});
	$effect(() => {
		void tree;
		if (posed) scene?.setPose(posed, never);
	});
	$effect(() => {
		if (twin) scene?.setTwin(twin.parts, twin.compiled, twin.pose);
		else scene?.setTwin([], null, null);
	});
	$effect(() => {
		scene?.resize(width, height);
	});
	/** Before the first pose all parts lie at one place, and there is nothing to bring into the picture. */
	const isShown = $derived(width > 2 && (posed !== null || untrack(clips).length === 0));
	$effect(() => {
		if (!scene || !isShown) return;
		scene.setClips(untrack(clips));
		scene.setView(isWorld ? 'front' : 'screen');
	});
</script>

<section
	bind:this={box}
	bind:clientWidth={width}
	bind:clientHeight={height}
	class="relative h-full min-h-0 overflow-hidden bg-sky"
	aria-label={label}
>
	<StageGround />
	<canvas
		bind:this={canvas}
		{...canvasProps}
		class="absolute inset-0 size-full touch-none {canvasProps.class ?? ''}"
		aria-hidden="true"
		data-stage-canvas={isAlone ? '' : undefined}
	></canvas>
	{#if scene && picture > 0 && doc.project.screen && !isWorld}
		<ScreenOutline {scene} {picture} screen={doc.project.screen} />
	{/if}
	<button
		type="button"
		class="btn absolute right-2 top-2 !min-h-[24px] text-xs"
		title="Bring everything into the picture"
		onclick={() => scene?.fit()}>Fit all</button
	>
	{@render children?.()}
	{#if failed}
		<p
			class="absolute inset-0 m-auto h-fit max-w-[320px] rounded-md border border-rule bg-sheet p-4 text-center"
		>
			This browser draws no WebGL, so there is no picture. {without}
		</p>
	{/if}
</section>

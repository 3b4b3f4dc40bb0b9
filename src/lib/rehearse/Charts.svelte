<script lang="ts">
	import { isVector, type Property } from '$core/document/types';
	import { unitOf } from '$core/document/units';
	import { propertyLabel } from '$core/document/labels';
	import { NAMED } from '$player/file/format';
	import { useSession } from '$lib/session/session.svelte';
	import { drawCharts, type ChartColours } from './draw-charts';
	import type { Trial } from './trial.svelte';

	/** Weights, cues, and one number with its speed, over the last seconds. */
	let { trial, theme }: { trial: Trial; theme: string } = $props();
	const session = useSession();

	let canvas: HTMLCanvasElement;
	let width = $state(0);
	let height = $state(0);

	interface Choice {
		id: string;
		name: string;
		unit: string;
		at: { part: string; path: string; component: number };
	}
	/** All numbers that some clip moves. */
	const choices = $derived.by<Choice[]>(() => {
		const targets = trial.made?.set.layout.targets ?? [];
		return targets.flatMap(({ part, path, kind, size }) => {
			if (kind === 'colour' || kind === 'rotation') return [];
			const property = (path === 'angles' ? 'rotation' : path) as Property;
			if (isVector(property)) return [];
			const names = NAMED[property];
			return Array.from({ length: size }, (_, component) => ({
				id: `${part}/${path}/${component}`,
				name: `${part} ${propertyLabel(property)}${names ? ` ${names[component]}` : ''}`,
				unit: unitOf(property, session.doc.project.space),
				at: { part, path, component },
			}));
		});
	});
	const charted = $derived.by(() => {
		const { charted: at } = trial;
		return choices.find(({ id }) => at && id === `${at.part}/${at.path}/${at.component}`) ?? null;
	});
	function choose(id: string) {
		trial.charted = choices.find((own) => own.id === id)?.at ?? null;
		trial.history.forgetValues();
	}

	const NAMES = ['ink', 'muted', 'rule', 'band', 'moss', 'lake', 'rust', 'heather'] as const;
	let colours: ChartColours | null = null;
	$effect(() => {
		void theme;
		const style = getComputedStyle(canvas);
		colours = Object.fromEntries(
			NAMES.map((name) => [name, style.getPropertyValue(`--${name}`).trim()]),
		) as unknown as ChartColours;
	});
	$effect(() => {
		void theme;
		void trial.picture;
		const ratio = Math.min(2, devicePixelRatio || 1);
		const [wide, tall] = [Math.round(width * ratio), Math.round(height * ratio)];
		if (canvas.width !== wide || canvas.height !== tall) [canvas.width, canvas.height] = [wide, tall];
		const context = canvas.getContext('2d');
		if (!context || !colours || width === 0) return;
		context.setTransform(ratio, 0, 0, ratio, 0, 0);
		drawCharts(context, { width, height }, trial.history, trial.time, charted, colours);
	});
</script>

<section class="flex h-full min-h-0 flex-col border-t border-rule bg-paper" aria-label="charts">
	<div class="flex h-[28px] shrink-0 items-center gap-2 px-2 text-xs">
		<span class="text-muted">Chart</span>
		<select
			class="field !min-h-[24px] max-w-[260px]"
			aria-label="number that is charted"
			value={charted?.id ?? ''}
			onchange={(event) => choose(event.currentTarget.value)}
		>
			{#if !charted}<option value="">nothing</option>{/if}
			{#each choices as { id, name } (id)}<option value={id}>{name}</option>{/each}
		</select>
		<span class="text-lake">value</span><span class="text-heather">speed</span>
		<span class="ml-auto min-w-0 truncate font-mono text-muted" data-playing
			>{trial.playing.map(({ place, clip }) => (place ? `${place}: ${clip}` : clip)).join(' · ') ||
				'nothing plays'}</span
		>
	</div>
	<div class="relative min-h-0 flex-1" bind:clientWidth={width} bind:clientHeight={height}>
		<canvas bind:this={canvas} class="absolute inset-0 size-full" aria-hidden="true" data-charts></canvas>
	</div>
</section>

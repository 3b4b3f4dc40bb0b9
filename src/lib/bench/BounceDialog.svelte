<script lang="ts">
	import { untrack } from 'svelte';
	import { numberIn, orientationIn } from '$core/clip/layout';
	import { depthBelowPivot } from '$core/drawing/box';
	import type { Vec3 } from '$player/maths/vector';
	import { bounceTicks, buildBounce, type BounceSettings } from '$core/edits/bounce-builder';
	import { compileCurve } from '$core/curve/compile';
	import { evaluateCurve } from '$player/curve/evaluate';
	import { PLAYS_ONCE } from '$core/curve/handles';
	import { putChannels } from '$core/edits/put-channels';
	import type { Part } from '$core/document/types';
	import { ticksToFrame } from '$core/time';
	import { ticksToSeconds } from '$player/time';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import { profilePath } from './shapes';
	import Sheet from '$lib/ui/Sheet.svelte';
	import { sentence } from '$lib/ui/sentence';

	let { open = $bindable(false), part }: { open: boolean; part: Part } = $props();
	const session = useSession();
	const world = $derived(session.doc.project.space === 'world');
	const unit = $derived(world ? ' m' : ' px');
	const now = (property: 'translation' | 'rotation' | 'scale', axis: 'x' | 'y' | 'z') =>
		numberIn(session.posed, part, property, axis);
	const foot = $derived(
		depthBelowPivot(
			part.drawing,
			session.doc.project.space,
			orientationIn(session.posed, part),
			(['x', 'y', 'z'] as const).map((axis) => now('scale', axis)) as Vec3,
		),
	);
	/** How high it stands now, and its ground: the world's zero, or the lower edge of what is on the screen. */
	const y = $derived(now('translation', 'y'));
	const ground = $derived(world ? 0 : y + foot + 200);
	const height = $derived(Math.abs(y - ground) - foot);

	let settings = $state<BounceSettings>({
		ground: 0,
		height: 3,
		foot: 0,
		angle: 0,
		turn: 0,
		fallFrames: 12,
		restitution: 0.6,
		bounces: 3,
		contactFrames: 1,
		squash: 0.3,
		scale: [1, 1, 1],
		start: 0,
		travel: 0,
		travelKept: 0.7,
		lingerFrames: 10,
	});
	// Each time it opens it begins where the part is.
	$effect(() => {
		if (!open) return;
		untrack(() => {
			// From where it stands, unless that is the ground already.
			const least = world ? 0.2 : 20;
			settings = {
				...settings,
				ground,
				height: height > least ? height : world ? 3 : 300,
				foot,
				// Pressed about a pivot above its foot, it sinks and comes up again while it stands.
				contactFrames: foot === 0 ? settings.contactFrames : Math.max(2, settings.contactFrames),
				angle: now('rotation', 'z'),
				start: now('translation', 'x'),
				scale: [now('scale', 'x'), now('scale', 'y'), now('scale', 'z')],
			};
			if (world) earth();
		});
	});

	const channels = $derived(buildBounce(settings, part.id, session.doc.project.space, session.frameRate));
	const ticks = $derived(bounceTicks(channels));
	const gravity = $derived((2 * settings.height) / ticksToSeconds(ticksOf(settings.fallFrames)) ** 2);
	const SIZE = { width: 560, height: 150, pad: 14 };
	const profile = $derived.by(() => {
		const curve = compileCurve(channels[0].keys, { before: 'hold', after: 'hold' }, PLAYS_ONCE);
		const sign = world ? 1 : -1;
		return profilePath((t) => sign * evaluateCurve(curve, t), 0, Math.max(1, ticks), SIZE);
	});

	function ticksOf(frames: number): number {
		return (frames * 72_000) / session.frameRate;
	}
	/** The fall that a height takes under the gravity of the Earth, on whole frames. */
	function earth() {
		settings.fallFrames = Math.max(
			1,
			Math.round(Math.sqrt((2 * settings.height) / 9.81) * session.frameRate),
		);
	}
	function make() {
		const { clip } = session;
		if (!clip) return;
		const t = Math.round(session.transport.local);
		session.edit(`Drop ${part.name}`, (doc) => putChannels(doc, clip, channels, t).doc);
		open = false;
	}
</script>

{#snippet field(
	label: string,
	name: Exclude<keyof BounceSettings, 'scale' | 'angle' | 'foot'>,
	options: { unit?: string; digits?: number; min?: number; max?: number; step?: number; percent?: boolean },
)}
	<label class="flex items-center justify-between gap-2">
		<span>{sentence(label)}</span>
		<NumberField
			{label}
			value={settings[name] * (options.percent ? 100 : 1)}
			unit={options.unit ?? ''}
			digits={options.digits ?? 2}
			min={options.min}
			max={options.max}
			step={options.step ?? 1}
			frameRate={options.unit === ' f' ? session.frameRate : undefined}
			class="w-[84px]"
			onpreview={(v) =>
				(settings[name] = options.percent ? v / 100 : options.digits === 0 ? Math.round(v) : v)}
			oncommit={(v) =>
				(settings[name] = options.percent ? v / 100 : options.digits === 0 ? Math.round(v) : v)}
		/>
	</label>
{/snippet}

<Sheet
	bind:open
	title="Drop {part.name}"
	about="A body let go at the playhead: exact arcs under one gravity, each lower and shorter than the one before."
	width="w-[640px]"
>
	<svg
		viewBox="0 0 {SIZE.width} {SIZE.height}"
		class="my-3 block w-full rounded-md border border-rule bg-sheet"
		role="img"
		aria-label="height over time"
	>
		<path d={profile.area} fill="var(--lake)" opacity="0.22" />
		<path d={profile.line} fill="none" stroke="var(--lake)" stroke-width="2" />
	</svg>
	<div class="grid grid-cols-2 gap-x-8 gap-y-1.5">
		{@render field('height', 'height', { unit, min: 0.001, max: 1e6, step: world ? 0.05 : 5 })}
		{@render field('ground at y', 'ground', { unit, step: world ? 0.05 : 5 })}
		{@render field('first fall', 'fallFrames', { unit: ' f', digits: 0, min: 1, max: 600 })}
		<p class="flex items-center justify-between gap-2 text-muted">
			<span>Gravity {writeNumber(gravity, 2)}{unit}/s²</span>
			{#if world}<button type="button" class="btn !min-h-[24px]" onclick={earth}>As on Earth</button>{/if}
		</p>
		{@render field('speed kept at a contact', 'restitution', {
			unit: ' %',
			digits: 0,
			min: 1,
			max: 99,
			percent: true,
		})}
		{@render field('rebounds', 'bounces', { digits: 0, min: 0, max: 20 })}
		{@render field('frames on the ground', 'contactFrames', { unit: ' f', digits: 0, min: 0, max: 30 })}
		{@render field('flattens by', 'squash', { unit: ' %', digits: 0, min: 0, max: 90, percent: true })}
		{@render field('turns in the first fall', 'turn', {
			unit: '°',
			digits: 0,
			min: -3600,
			max: 3600,
			step: 5,
		})}
		{@render field('travels in the first fall', 'travel', { unit, step: world ? 0.05 : 5 })}
		{@render field('travel kept at a contact', 'travelKept', {
			unit: ' %',
			digits: 0,
			min: 0,
			max: 100,
			percent: true,
		})}
		{@render field('slides on for', 'lingerFrames', { unit: ' f', digits: 0, min: 0, max: 300 })}
		<p class="flex items-center text-muted">
			{writeNumber(ticksToFrame(ticks, session.frameRate), 0)} frames in all
		</p>
	</div>
	{#snippet actions()}
		<button type="button" class="btn btn-main" onclick={make}>Create keys</button>
	{/snippet}
</Sheet>

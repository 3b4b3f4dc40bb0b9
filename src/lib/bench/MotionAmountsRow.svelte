<script lang="ts">
	import type { Motion } from '$core/document/motions';
	import { comesBack, type MotionAmounts } from '$core/motions/put';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import FrameField from '$lib/session/FrameField.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';

	interface Props {
		motion: Motion;
		amounts: MotionAmounts;
		/** How far it goes by itself, on the part in hand. */
		distance: number;
		several: boolean;
		/** Of the parts that it is tried on. */
		names: string;
		/** Rounds at most. */
		most: number;
		onchange: (amounts: Partial<MotionAmounts>) => void;
		onput: () => void;
		oncancel: () => void;
	}
	/** How much of a motion is put. */
	let { motion, amounts, distance, several, names, most, onchange, onput, oncancel }: Props = $props();
	const session = useSession();
	const rate = $derived(session.frameRate);
	const isWorld = $derived(session.doc.project.space === 'world');
	const goes = $derived(motion.channels.some(({ property }) => property === 'translation'));
	const others = $derived(motion.channels.some(({ property }) => property !== 'translation'));
	const hasSides = $derived(
		motion.channels.some(
			({ property, component }) =>
				(property === 'translation' && component === 'x') ||
				(property === 'rotation' && component !== 'x') ||
				(property === 'reveal' && (component === 'left' || component === 'right')),
		),
	);
	const ticks = (frames: number) => Math.max(1, Math.round(frameToTicks(frames, rate)));
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
	<Labelled text="duration">
		<FrameField
			label="duration of the motion"
			value={ticksToFrame(amounts.length, rate)}
			min={1}
			max={36_000}
			class="w-[64px] !min-h-[24px]"
			onpreview={(v) => onchange({ length: ticks(v) })}
			oncommit={(v) => onchange({ length: ticks(v) })}
		/>
	</Labelled>
	{#if goes}
		<Labelled text="distance">
			<NumberField
				label="distance of the motion"
				value={amounts.distance ?? distance}
				unit={isWorld ? ' m' : ' px'}
				step={isWorld ? 0.02 : 1}
				digits={isWorld ? 3 : 1}
				min={0}
				max={1e6}
				class="w-[76px] !min-h-[24px]"
				onpreview={(v) => onchange({ distance: v })}
				oncommit={(v) => onchange({ distance: v })}
			/>
		</Labelled>
	{/if}
	{#if others}
		<Labelled text="strength">
			<NumberField
				label="strength of the motion"
				value={100 * amounts.strength}
				unit=" %"
				digits={0}
				min={1}
				max={500}
				class="w-[64px] !min-h-[24px]"
				onpreview={(v) => onchange({ strength: v / 100 })}
				oncommit={(v) => onchange({ strength: v / 100 })}
			/>
		</Labelled>
	{/if}
	{#if comesBack(motion)}
		<Labelled text="rounds">
			<NumberField
				label="rounds of the motion"
				value={amounts.rounds}
				digits={0}
				min={1}
				max={most}
				class="w-[46px] !min-h-[24px]"
				oncommit={(v) => onchange({ rounds: Math.round(v) })}
			/>
		</Labelled>
	{/if}
	{#if several}
		<Labelled text="stagger by">
			<FrameField
				label="stagger of the motion"
				value={ticksToFrame(amounts.stagger, rate)}
				min={0}
				max={600}
				class="w-[60px] !min-h-[24px]"
				onpreview={(v) => onchange({ stagger: Math.round(frameToTicks(v, rate)) })}
				oncommit={(v) => onchange({ stagger: Math.round(frameToTicks(v, rate)) })}
			/>
		</Labelled>
	{/if}
	{#if hasSides}
		<label class="flex items-center gap-1.5"
			><input
				type="checkbox"
				checked={amounts.mirrored}
				onchange={(event) => onchange({ mirrored: event.currentTarget.checked })}
			/>Mirrored</label
		>
	{/if}
	<span class="flex-1"></span>
	<button type="button" class="btn btn-main !min-h-[24px]" onclick={onput}>Put on {names}</button>
	<button type="button" class="btn !min-h-[24px]" onclick={oncancel}>Cancel</button>
</div>

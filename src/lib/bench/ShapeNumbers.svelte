<script lang="ts">
	import ClipboardCopy from '@lucide/svelte/icons/clipboard-copy';
	import { toast } from 'svelte-sonner';
	import { springSettleSeconds } from '$player/easing/ease';
	import type { SpanEasing } from '$core/fit/css-span';
	import { readCssEasingOrDeclaration } from '$core/easing/css-declaration';
	import type { SpringParameters } from '$player/easing/spring';
	import { overshootingBy, overshootOf, settlingIn } from '$core/easing/spring-feel';
	import {
		EASING_FAMILIES,
		EASING_WAYS,
		STEP_JUMPS,
		type EasingFamily,
		type EasingWay,
		type Shape,
		type StepJump,
	} from '$player/easing/shape';
	import { sentence } from '$lib/ui/sentence';
	import NumberField from '$lib/ui/NumberField.svelte';
	import Amount from './Amount.svelte';

	interface Props {
		shape: Shape;
		/** Value change over the span. */
		change: number;
		onpreview: (shape: Shape) => void;
		oncommit: (shape: Shape) => void;
		/** The span in CSS, as `linear()` where CSS has no other words; null where it cannot be said. */
		easing: SpanEasing | null;
		/** Makes the span as long as its spring takes to settle. */
		onsettle: (seconds: number) => void;
		onexpand: () => void;
	}
	let { shape, change, easing, onpreview, oncommit, onsettle, onexpand }: Props = $props();
	const css = $derived(easing?.text ?? null);

	const settles = $derived(shape.kind === 'spring' ? springSettleSeconds(shape, change) : 0);

	function copyCss() {
		if (!css) return;
		navigator.clipboard.writeText(css).then(
			() => toast('Copied as CSS'),
			() => toast.error('The browser does not let this page copy', { description: css }),
		);
	}
	function typeCss(text: string) {
		const read = readCssEasingOrDeclaration(text);
		if (read.ok) {
			oncommit(read.value.easing);
			if (read.value.isDeclaration)
				toast('Its easing was taken', { description: 'Tween … takes duration and delay, too.' });
		} else toast.error('This is no CSS easing', { description: read.problems[0].message });
	}
	function byFeel({ stiffness, damping }: SpringParameters) {
		if (shape.kind !== 'spring') return;
		const within = (v: number, most: number) => Number(Math.min(most, Math.max(0.01, v)).toPrecision(6));
		oncommit({ ...shape, stiffness: within(stiffness, 100_000), damping: within(damping, 10_000) });
	}
</script>

{#snippet number(
	label: string,
	value: number,
	set: (v: number) => Shape,
	options: { step?: number; min?: number; max?: number; digits?: number } = {},
)}
	<label class="flex items-center gap-1.5">
		<span>{sentence(label)}</span>
		<NumberField
			{label}
			{value}
			step={options.step ?? 0.01}
			min={options.min}
			max={options.max}
			digits={options.digits ?? 2}
			class="w-[64px] !min-h-[24px]"
			onpreview={(v) => onpreview(set(v))}
			oncommit={(v) => oncommit(set(v))}
		/>
	</label>
{/snippet}

<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
	{#if shape.kind === 'eased'}
		<Amount
			label="slow start"
			value={shape.start}
			onpreview={(v) => onpreview({ ...shape, start: v })}
			oncommit={(v) => oncommit({ ...shape, start: v })}
		/>
		<Amount
			label="slow finish"
			value={shape.finish}
			onpreview={(v) => onpreview({ ...shape, finish: v })}
			oncommit={(v) => oncommit({ ...shape, finish: v })}
		/>
	{:else if shape.kind === 'bezier'}
		{@render number('x1', shape.x1, (v) => ({ ...shape, x1: v }), { min: 0, max: 1 })}
		{@render number('y1', shape.y1, (v) => ({ ...shape, y1: v }), { min: -100, max: 100 })}
		{@render number('x2', shape.x2, (v) => ({ ...shape, x2: v }), { min: 0, max: 1 })}
		{@render number('y2', shape.y2, (v) => ({ ...shape, y2: v }), { min: -100, max: 100 })}
	{:else if shape.kind === 'family'}
		<select
			class="field !min-h-[24px]"
			aria-label="family of easings"
			value={shape.family}
			onchange={(event) => oncommit({ ...shape, family: event.currentTarget.value as EasingFamily })}
		>
			{#each EASING_FAMILIES as family (family)}<option value={family}>{sentence(family)}</option>{/each}
		</select>
		<label class="flex items-center gap-1.5">
			<span>Slow at</span>
			<select
				class="field !min-h-[24px]"
				aria-label="slow at"
				value={shape.way}
				onchange={(event) => oncommit({ ...shape, way: event.currentTarget.value as EasingWay })}
			>
				{#each EASING_WAYS as way (way)}<option value={way}
						>{way === 'in'
							? 'start · ease-in'
							: way === 'out'
								? 'finish · ease-out'
								: 'both ends · ease-in-out'}</option
					>{/each}
			</select>
		</label>
		{#if shape.family === 'back'}
			{@render number('overshoot', shape.overshoot ?? 1.70158, (v) => ({ ...shape, overshoot: v }), {
				min: 0,
				max: 10,
				step: 0.1,
			})}
		{:else if shape.family === 'elastic'}
			{@render number('amplitude', shape.amplitude ?? 1, (v) => ({ ...shape, amplitude: v }), {
				min: 1,
				max: 10,
				step: 0.05,
			})}
			{@render number('period', shape.period ?? 0.3, (v) => ({ ...shape, period: v }), { min: 0.05, max: 2 })}
		{/if}
	{:else if shape.kind === 'steps'}
		{@render number('steps', shape.count, (v) => ({ ...shape, count: Math.round(v) }), {
			min: shape.jump === 'jump-none' ? 2 : 1,
			max: 1000,
			step: 1,
			digits: 0,
		})}
		<select
			class="field !min-h-[24px]"
			aria-label="where it jumps"
			value={shape.jump}
			onchange={(event) => {
				const jump = event.currentTarget.value as StepJump;
				oncommit({ ...shape, jump, count: jump === 'jump-none' ? Math.max(2, shape.count) : shape.count });
			}}
		>
			{#each STEP_JUMPS as jump (jump)}<option value={jump}>{jump}</option>{/each}
		</select>
	{:else if shape.kind === 'spring'}
		{@render number('stiffness', shape.stiffness, (v) => ({ ...shape, stiffness: v }), {
			min: 0.01,
			max: 100_000,
			step: 2,
			digits: 1,
		})}
		{@render number('damping', shape.damping, (v) => ({ ...shape, damping: v }), {
			min: 0.01,
			max: 10_000,
			step: 0.2,
		})}
		{@render number('mass', shape.mass, (v) => ({ ...shape, mass: v }), { min: 0.01, max: 1000, step: 0.05 })}
		{@render number('velocity', shape.velocity, (v) => ({ ...shape, velocity: v }), {
			min: -1e6,
			max: 1e6,
			step: 0.5,
		})}
		<select
			class="field !min-h-[24px]"
			aria-label="time of the spring"
			value={shape.time}
			onchange={(event) => oncommit({ ...shape, time: event.currentTarget.value as 'real' | 'fitted' })}
		>
			<option value="fitted">Fitted to the span</option>
			<option value="real">Real time</option>
		</select>
		<span class="flex items-center gap-1.5">
			<span class="text-muted">Settling time</span>
			<NumberField
				label="seconds to settle"
				value={settles}
				unit=" s"
				digits={2}
				min={0.05}
				max={60}
				step={0.05}
				class="w-[64px] !min-h-[24px]"
				oncommit={(v) => byFeel(settlingIn(shape, v))}
			/>
			<span class="text-muted">Overshoot</span>
			<NumberField
				label="overshoot in percent"
				value={overshootOf(shape) * 100}
				unit=" %"
				digits={1}
				min={0}
				max={95}
				class="w-[62px] !min-h-[24px]"
				oncommit={(v) => byFeel(overshootingBy(shape, v / 100))}
			/>
		</span>
		<button type="button" class="btn !min-h-[24px]" onclick={() => onsettle(settles)}
			>Fit span to settling time</button
		>
	{:else if shape.kind === 'bounce'}
		{@render number('restitution', shape.restitution, (v) => ({ ...shape, restitution: v }), {
			min: 0.01,
			max: 0.99,
		})}
		{@render number('rebounds', shape.count, (v) => ({ ...shape, count: Math.round(v) }), {
			min: 1,
			max: 20,
			step: 1,
			digits: 0,
		})}
	{:else if shape.kind === 'fall'}
		<span class="text-muted">gravity: starts at rest, ends at full speed</span>
	{:else if shape.kind === 'rise'}
		<span class="text-muted">gravity: starts at full speed, ends at rest</span>
	{:else if shape.kind === 'hold'}
		<span class="text-muted">keeps the value, then jumps</span>
	{:else if shape.kind === 'linear'}
		<span class="text-muted">the same speed throughout</span>
	{/if}
	<span class="ml-auto flex grow items-center justify-end gap-1.5">
		{#if css}
			<input
				class="field min-w-[190px] max-w-[440px] flex-1 !min-h-[24px] !px-1.5 font-mono text-xs text-muted"
				aria-label="CSS easing"
				spellcheck="false"
				title={easing?.exact
					? 'The same in CSS: type another to use it'
					: `In CSS within a thousandth, ${easing?.stops} stops: type another to use it`}
				value={css}
				onchange={(event) => {
					typeCss(event.currentTarget.value);
					event.currentTarget.value = css;
				}}
			/>
			<button
				type="button"
				class="target btn btn-square !min-h-[24px] !w-[24px]"
				aria-label="copy as CSS"
				title="Copy as CSS"
				onclick={copyCss}><ClipboardCopy size={13} /></button
			>
		{/if}
		{#if !easing?.exact && shape.kind !== 'handles'}
			<button
				type="button"
				class="btn !min-h-[24px]"
				title="Replace by keys that draw the same, within 0.1 % of the travel"
				onclick={onexpand}>Convert to keys</button
			>
		{/if}
	</span>
</div>

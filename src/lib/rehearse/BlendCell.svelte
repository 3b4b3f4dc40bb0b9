<script lang="ts">
	import { blendSpec } from '$core/blend/clip-set';
	import type { Blend } from '$core/document/types';
	import { writeNumber } from '$lib/ui/number-text';

	/** A blend as a small ramp: how the next clip's weight comes up, or how the momentum dies away. */
	interface Props {
		blend: Blend;
		shares: { value: number; rate: number };
		limit: number;
		label: string;
		isOpen: boolean;
		onclick: () => void;
	}
	let { blend, shares, limit, label, isOpen, onclick }: Props = $props();

	const WIDTH = 52;
	const HEIGHT = 22;
	const ramp = $derived.by(() => {
		if (blend.kind === 'cut') return `M0 ${HEIGHT}H${WIDTH / 2}V0H${WIDTH}`;
		const ease = blendSpec(blend).ease ?? ((x: number) => x);
		const weight = (x: number) => (blend.kind === 'inertial' ? 1 - (1 - x) ** 4 * (1 + 4 * x) : ease(x));
		const points = Array.from(
			{ length: 17 },
			(_, i) => `${(WIDTH * i) / 16} ${HEIGHT * (1 - weight(i / 16))}`,
		);
		return `M${points.join('L')}`;
	});
	/** A jump of less than this share of a range is not seen. */
	const SEEN = 0.001;
	const hasPop = $derived(shares.value > SEEN || shares.rate > limit);
</script>

<button
	type="button"
	class="flex w-[64px] flex-col rounded-md border bg-sheet px-1 py-1 text-left {isOpen
		? 'border-moss'
		: 'border-rule hover:border-muted'}"
	aria-label={label}
	aria-pressed={isOpen}
	data-blend={blend.id}
	{onclick}
>
	<svg width={WIDTH} height={HEIGHT} class="overflow-visible" aria-hidden="true">
		<path
			d="{ramp}V{HEIGHT}H0Z"
			fill={blend.kind === 'inertial'
				? 'var(--heather)'
				: blend.kind === 'cut'
					? 'var(--rule)'
					: 'var(--moss)'}
			opacity="0.35"
		/>
		<path d={ramp} fill="none" stroke="var(--ink)" stroke-width="1.2" />
	</svg>
	<span class="font-mono">{blend.kind === 'cut' ? 'cut' : `${writeNumber(blend.seconds, 2)} s`}</span>
	<span class="font-mono {hasPop ? 'text-rust' : 'text-muted'}"
		>{shares.value > SEEN
			? `pop ${writeNumber(100 * shares.value, 0)}%`
			: shares.rate > limit
				? `pop ${writeNumber(shares.rate, 1)}/s`
				: 'no pop'}</span
	>
</button>

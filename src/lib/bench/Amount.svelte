<script lang="ts">
	import { sentence } from '$lib/ui/sentence';
	import { Slider } from 'bits-ui';
	import NumberField from '$lib/ui/NumberField.svelte';

	interface Props {
		label: string;
		/** 0…1, shown in percent. */
		value: number;
		onpreview: (value: number) => void;
		oncommit: (value: number) => void;
	}
	let { label, value, onpreview, oncommit }: Props = $props();
</script>

<div class="flex basis-[200px] grow items-center gap-2">
	<span class="whitespace-nowrap">{sentence(label)}</span>
	<Slider.Root
		type="single"
		min={0}
		max={100}
		step={1}
		value={Math.round(value * 100)}
		onValueChange={(v: number) => onpreview(v / 100)}
		onValueCommit={(v: number) => oncommit(v / 100)}
		class="relative flex h-[24px] min-w-[60px] flex-1 touch-none items-center"
	>
		<span class="relative h-[5px] w-full rounded-full bg-rule">
			<Slider.Range class="absolute h-full rounded-full bg-moss" />
		</span>
		<Slider.Thumb
			index={0}
			class="block size-[14px] rounded-full border-2 border-ink bg-sheet"
			aria-label={label}
		/>
	</Slider.Root>
	<NumberField
		{label}
		value={value * 100}
		unit=" %"
		digits={0}
		min={0}
		max={100}
		class="w-[56px] !min-h-[24px]"
		onpreview={(v) => onpreview(v / 100)}
		oncommit={(v) => oncommit(v / 100)}
	/>
</div>

<script lang="ts">
	import { BLEND_KINDS, type Blend, type BlendKind } from '$core/document/types';
	import { BLEND_WORDS } from '$core/document/labels';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { SHAPE_SHEET } from './shapes';

	/** How one clip gives way to another, as fields. */
	interface Props {
		blend: Blend;
		onchange: (changed: Partial<Pick<Blend, 'kind' | 'seconds' | 'start' | 'shape'>>) => void;
	}
	let { blend, onchange }: Props = $props();
	const session = useSession();
	const name = $derived(session.doc.clips[blend.to]?.name);
	/** Easings that are offered; another one that a blend has stays. */
	const EASINGS = SHAPE_SHEET.filter(({ name }) =>
		['Linear', 'Slow start', 'Slow finish', 'Slow ends'].includes(name),
	);
	const easingOf = ({ shape }: Blend) =>
		EASINGS.find((choice) => JSON.stringify(choice.shape) === JSON.stringify(shape))?.name ?? '';
	function setEasing(name: string) {
		const choice = EASINGS.find((own) => own.name === name);
		if (choice) onchange({ shape: choice.shape });
	}
</script>

<select
	class="field !min-h-[24px]"
	aria-label="kind of the blend to {name}"
	value={blend.kind}
	onchange={(event) => onchange({ kind: event.currentTarget.value as BlendKind })}
>
	{#each BLEND_KINDS as kind (kind)}<option value={kind}>{BLEND_WORDS[kind]}</option>{/each}
</select>
{#if blend.kind !== 'cut'}
	<NumberField
		label="seconds of the blend to {name}"
		value={blend.seconds}
		unit=" s"
		digits={2}
		step={0.02}
		min={0.01}
		max={60}
		class="w-[64px] !min-h-[24px]"
		oncommit={(seconds) => onchange({ seconds })}
	/>
{/if}
<select
	class="field !min-h-[24px]"
	aria-label="where {name} begins"
	value={blend.start === 'phase' ? 'phase' : 'start'}
	onchange={(event) => onchange({ start: event.currentTarget.value as 'start' | 'phase' })}
>
	<option value="start">From its start</option>
	<option value="phase">Matching phase</option>
</select>
{#if blend.kind === 'crossfade'}
	{@const easing = easingOf(blend)}
	<select
		class="field !min-h-[24px]"
		aria-label="easing of the blend to {name}"
		value={easing}
		onchange={(event) => setEasing(event.currentTarget.value)}
	>
		{#if easing === ''}<option value="">Its own easing</option>{/if}
		{#each EASINGS as { name } (name)}<option value={name}>{name}</option>{/each}
	</select>
{/if}

<script lang="ts">
	import { measureBlend } from '$core/blend/clip-set';
	import { putBlend, removeBlend } from '$core/edits/clips';
	import { BLEND_KINDS, type Blend, type BlendKind } from '$core/document/types';
	import { unitOf } from '$core/document/units';
	import type { Field } from '$lib/session/fields';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** How the clip gives way to others, each with the largest jump that an eye would catch. */
	const session = useSession();
	const clip = $derived(session.clip!);
	const blends = $derived(Object.values(session.doc.blends).filter((blend) => blend.from === clip.id));
	const others = $derived(
		session.project.clips.filter((other) => !blends.some((blend) => blend.to === other.id)),
	);
	const WORDS: Record<BlendKind, string> = {
		crossfade: 'Crossfade',
		inertial: 'Inertial',
		cut: 'Cut',
	};

	function add(to: string) {
		session.edit('New blend', (doc) =>
			putBlend(doc, {
				from: clip.id,
				to,
				kind: 'crossfade',
				seconds: 0.25,
				start: 'start',
				shape: { kind: 'eased', start: 0.42, finish: 0.42 },
			}),
		);
	}
	function change(blend: Blend, changed: Partial<Pick<Blend, 'kind' | 'seconds' | 'start'>>) {
		session.edit('Change blend', (doc) => putBlend(doc, { ...blend, ...changed }));
	}
	function popOf(blend: Blend): string {
		const pop = measureBlend(session.doc, blend).find(({ value, range }) => value > 0.001 * range);
		if (!pop) return 'No pop';
		const unit = unitOf(pop.property, session.doc.project.space);
		return `${session.doc.parts[pop.part]?.name ?? ''} ${pop.property} jumps ${writeNumber(pop.value, 2)}${unit}`;
	}
</script>

<div class="rounded-md border border-rule p-2">
	<h3 class="sheet-title mb-1">Blends to</h3>
	{#each blends as blend (blend.id)}
		<div class="flex flex-wrap items-center gap-x-2 gap-y-1 py-0.5">
			<span class="min-w-[88px] font-semibold">{session.doc.clips[blend.to]?.name}</span>
			<select
				class="field !min-h-[24px]"
				aria-label="kind of the blend to {session.doc.clips[blend.to]?.name}"
				value={blend.kind}
				onchange={(event) => change(blend, { kind: event.currentTarget.value as BlendKind })}
			>
				{#each BLEND_KINDS as kind (kind)}<option value={kind}>{WORDS[kind]}</option>{/each}
			</select>
			{#if blend.kind !== 'cut'}
				<NumberField
					label="seconds of the blend to {session.doc.clips[blend.to]?.name}"
					value={blend.seconds}
					unit=" s"
					digits={2}
					step={0.02}
					min={0.01}
					max={60}
					class="w-[64px] !min-h-[24px]"
					oncommit={(seconds) => change(blend, { seconds })}
				/>
			{/if}
			<select
				class="field !min-h-[24px]"
				aria-label="where {session.doc.clips[blend.to]?.name} begins"
				value={blend.start === 'phase' ? 'phase' : 'start'}
				onchange={(event) => change(blend, { start: event.currentTarget.value as 'start' | 'phase' })}
			>
				<option value="start">From its start</option>
				<option value="phase">Matching phase</option>
			</select>
			<span class="font-mono text-xs text-muted">{popOf(blend)}</span>
			<button
				type="button"
				class="btn ml-auto !min-h-[24px]"
				aria-label="delete the blend to {session.doc.clips[blend.to]?.name}"
				onclick={() => session.edit('Delete blend', (doc) => removeBlend(doc, blend.id))}>Delete</button
			>
		</div>
	{/each}
	<select
		class="field mt-1 !min-h-[24px]"
		aria-label="add a blend to a clip"
		data-field={'clip-blend' satisfies Field}
		value=""
		onchange={(event) => {
			if (event.currentTarget.value) add(event.currentTarget.value);
			event.currentTarget.value = '';
		}}
	>
		<option value="">{blends.length === 0 ? 'Add blend …' : 'Add another …'}</option>
		{#each others as other (other.id)}<option value={other.id}>{other.name}</option>{/each}
	</select>
</div>

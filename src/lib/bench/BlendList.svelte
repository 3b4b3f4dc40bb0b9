<script lang="ts">
	import { measureBlend, type MeasuredPop } from '$core/blend/clip-set';
	import { putBlend, removeBlend } from '$core/edits/clips';
	import type { Blend } from '$core/document/types';
	import { propertyLabel } from '$core/document/labels';
	import { unitOf } from '$core/document/units';
	import type { Field } from '$lib/session/fields';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import Play from '@lucide/svelte/icons/play';
	import Square from '@lucide/svelte/icons/square';
	import BlendFields from './BlendFields.svelte';

	/** How the clip gives way to others, each with the largest jump that an eye would catch. */
	const session = useSession();
	const clip = $derived(session.clip!);
	const blends = $derived(Object.values(session.doc.blends).filter((blend) => blend.from === clip.id));
	const others = $derived(
		session.project.clips.filter((other) => !blends.some((blend) => blend.to === other.id)),
	);
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
	function change(blend: Blend, changed: Partial<Pick<Blend, 'kind' | 'seconds' | 'start' | 'shape'>>) {
		session.edit('Change blend', (doc) => putBlend(doc, { ...blend, ...changed }));
	}
	/** The largest pop of a value and of a speed, each by the range that its number has in both clips. */
	function figuresOf(blend: Blend): string {
		const pops = measureBlend(session.doc, blend);
		const { space } = session.doc.project;
		const tell = ({ part, property }: MeasuredPop, by: number, per: string) => {
			const name = `${session.doc.parts[part]?.name ?? ''} ${propertyLabel(property)}`;
			return `${name} ${writeNumber(by, 2)}${unitOf(property, space)}${per}`;
		};
		const value = pops.find((pop) => pop.value > 0.001 * pop.range);
		const [rate] = pops
			.filter((pop) => pop.rate > 0.02 * pop.range)
			.sort((a, b) => b.rate / Math.max(b.range, 1e-9) - a.rate / Math.max(a.range, 1e-9));
		return [
			value ? `Pop in value: ${tell(value, value.value, '')}` : 'No pop in value',
			rate ? `pop in speed: ${tell(rate, rate.rate, '/s')}` : 'no pop in speed',
		].join(' · ');
	}
</script>

<div class="rounded-md border border-rule p-2">
	<h3 class="sheet-title mb-1">Blends to</h3>
	{#each blends as blend (blend.id)}
		{@const isPlayed = session.across.blend === blend.id}
		<div class="flex flex-wrap items-center gap-x-2 gap-y-1 py-0.5">
			<span class="min-w-[88px] font-semibold">{session.doc.clips[blend.to]?.name}</span>
			<BlendFields {blend} onchange={(changed) => change(blend, changed)} />
			<button
				type="button"
				class="btn flex items-center gap-1 !min-h-[24px]"
				aria-label="{isPlayed ? 'stop playing' : 'play'} across into {session.doc.clips[blend.to]?.name}"
				onclick={() => (isPlayed ? session.across.stop() : session.playAcross(blend))}
			>
				{#if isPlayed}<Square size={11} />Stop{:else}<Play size={11} />Play across{/if}
			</button>
			<button
				type="button"
				class="btn ml-auto !min-h-[24px]"
				aria-label="delete the blend to {session.doc.clips[blend.to]?.name}"
				onclick={() => session.edit('Delete blend', (doc) => removeBlend(doc, blend.id))}>Delete</button
			>
			<p class="basis-full font-mono text-xs text-muted" data-blend-figures>{figuresOf(blend)}</p>
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

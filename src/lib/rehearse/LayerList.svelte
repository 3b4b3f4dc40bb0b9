<script lang="ts">
	import Plus from '@lucide/svelte/icons/plus';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import type { Layer } from '$core/document/triggers';
	import { inOrder } from '$core/document/types';
	import { changeIn, putLayer, removeLayer } from '$core/edits/triggers';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import Popover from '$lib/ui/Popover.svelte';
	import type { Trial } from './trial.svelte';
	import { addLayer } from './trigger-acts';

	/** Layers over the ground, from below: what they are for, and how much they count. */
	let { trial }: { trial: Trial } = $props();
	const session = useSession();
	const layers = $derived(inOrder(session.doc.layers));
	const parts = $derived(session.project.tree);

	function change(layer: Layer, changed: Partial<Omit<Layer, 'type' | 'id'>>) {
		session.edit('Change layer', (doc) => changeIn(doc, { ...layer, ...changed }, putLayer));
	}
	function togglePart(layer: Layer, part: string) {
		const own = layer.parts ?? parts.map((row) => row.part.id);
		const next = own.includes(part) ? own.filter((id) => id !== part) : [...own, part];
		change(layer, { parts: next.length === parts.length ? null : next });
	}
	function rename(layer: Layer, text: string) {
		const name = text.trim();
		if (name !== '' && name !== layer.name) change(layer, { name });
	}
	const users = (layer: Layer) =>
		Object.values(session.doc.triggers).filter(({ then }) => 'layer' in then && then.layer === layer.id)
			.length;
	function playsIn(layer: Layer): string {
		return trial.playing.flatMap(({ place, clip }) => (place === layer.name ? clip : [])).join(', ');
	}
</script>

<section class="flex flex-col gap-1 border-t border-rule pt-2" aria-label="layers">
	<h2 class="sheet-title">Layers</h2>
	{#if layers.length === 0}
		<p class="text-muted">
			A layer plays beside what plays: a blink over a walk, kelp that sways while the crane works.
		</p>
	{/if}
	{#each layers as layer (layer.id)}
		<div
			class="flex flex-wrap items-center gap-1 rounded-md border border-rule px-1.5 py-1"
			data-layer={layer.name}
		>
			<input
				class="field w-[86px] !min-h-[24px] font-semibold"
				aria-label="name of layer {layer.name}"
				maxlength="120"
				value={layer.name}
				onchange={(event) => rename(layer, event.currentTarget.value)}
			/>
			<select
				class="field !min-h-[24px]"
				aria-label="how {layer.name} lies over what is below"
				value={layer.mode}
				onchange={(event) => change(layer, { mode: event.currentTarget.value as Layer['mode'] })}
			>
				<option value="replace">replaces</option>
				<option value="add">adds</option>
			</select>
			<Popover
				label="parts of {layer.name}"
				class="btn !min-h-[24px]"
				contentClass="max-h-[300px] overflow-y-auto p-2"
				align="end"
			>
				{#snippet trigger()}{layer.parts === null
						? 'all parts'
						: `${layer.parts.length} part${layer.parts.length === 1 ? '' : 's'}`}{/snippet}
				{#each parts as { part, depth } (part.id)}
					<label class="flex min-h-[24px] items-center gap-1.5" style="padding-left: {depth * 12}px"
						><input
							type="checkbox"
							class="size-[16px] accent-moss"
							checked={layer.parts === null || layer.parts.includes(part.id)}
							onchange={() => togglePart(layer, part.id)}
						/>{part.name}</label
					>
				{/each}
			</Popover>
			<button
				type="button"
				class="btn btn-square ml-auto !min-h-[24px]"
				aria-label="delete layer {layer.name}"
				title={users(layer) > 0 ? `Delete it, with ${users(layer)} triggers of it` : 'Delete it'}
				onclick={() => session.edit('Delete layer', (doc) => removeLayer(doc, layer.id))}
				><Trash2 size={13} /></button
			>
			<span class="flex basis-full items-center gap-1">
				<span class="text-muted">weight</span>
				{#if layer.parameter === null}
					<NumberField
						label="weight of {layer.name}"
						value={layer.weight}
						step={0.05}
						min={0}
						max={1}
						class="w-[52px] !min-h-[24px]"
						oncommit={(weight) => change(layer, { weight })}
					/>
				{/if}
				<label class="flex min-h-[24px] items-center gap-1"
					><input
						type="checkbox"
						class="size-[16px] accent-moss"
						checked={layer.parameter !== null}
						onchange={() => change(layer, { parameter: layer.parameter === null ? layer.name : null })}
					/>follows</label
				>
				{#if layer.parameter !== null}
					<input
						class="field !min-h-[24px] w-[90px]"
						aria-label="parameter that {layer.name} follows"
						maxlength="120"
						value={layer.parameter}
						onchange={(event) =>
							change(layer, { parameter: event.currentTarget.value.trim() || layer.parameter })}
					/>
				{/if}
				<span class="ml-auto truncate text-xs text-muted">{playsIn(layer)}</span>
			</span>
		</div>
	{/each}
	<button type="button" class="btn self-start" onclick={() => addLayer(session)}
		><Plus size={13} />New layer</button
	>
</section>

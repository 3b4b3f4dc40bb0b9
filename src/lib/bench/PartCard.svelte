<script lang="ts">
	import Copy from '@lucide/svelte/icons/copy';
	import CopyPlus from '@lucide/svelte/icons/copy-plus';
	import Trash from '@lucide/svelte/icons/trash';
	import { toast } from 'svelte-sonner';
	import { colourIn } from '$core/clip/layout';
	import { decide, writeColourByHand, type Decision } from '$core/edits/by-hand';
	import { updatePart, withDescendants } from '$core/edits/parts';
	import { hangPart, type Keeping } from '$lib/acts/hang-part';
	import { copyPart, deletePart } from '$lib/acts/new-parts';
	import {
		hasChannels,
		isMoved,
		keyRest,
		letRest,
		restHere,
		toggleVolume,
		volumeOf,
	} from '$lib/acts/part-acts';
	import { writeHex } from '$core/pose/hex';
	import { EULER_ORDERS, type EulerOrder } from '$player/maths/quaternion';
	import type { Field } from '$lib/session/fields';
	import type { Drag } from '$lib/session/project.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import AlignRow from './AlignRow.svelte';
	import LookRow from './LookRow.svelte';
	import OwnNumbers from './OwnNumbers.svelte';
	import PivotRow from './PivotRow.svelte';
	import { rowsOf } from './part-numbers';
	import PropertyRow from './PropertyRow.svelte';
	import ColourField from '$lib/ui/ColourField.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';

	const session = useSession();
	const part = $derived(session.selection.part!);
	const isFlat = $derived(session.doc.project.space === 'interface');
	const volume = $derived(volumeOf(session, part));
	const parents = $derived.by(() => {
		const own = withDescendants(session.doc, part.id);
		return session.project.tree.filter((entry) => !own.has(entry.part.id));
	});

	/** What it shows at the playhead. */
	const colour = $derived(writeHex(colourIn(session.posed, part)));
	let colouring: { drag: Drag; decided: Extract<Decision, { ok: true }> | null } | null = null;
	function previewColour(hex: string) {
		const { id } = part;
		if (!colouring) {
			const hand = session.handOn(id, true);
			const decided = hand && decide(session.doc, hand, [{ property: 'colour', component: 'value' }]);
			if (decided && !decided.ok) {
				toast('It cannot be changed here', { id: 'by-hand', description: decided.why });
				return;
			}
			colouring = { drag: session.startDrag('Change colour'), decided };
		}
		const { drag, decided } = colouring;
		drag.update((doc) =>
			decided ? writeColourByHand(doc, decided, hex) : updatePart(doc, id, { colour: hex }),
		);
	}

	/** How a part is kept in its place when it gets another parent. */
	let keeps = $state<Keeping>('now');
</script>

<div class="flex flex-col gap-2">
	<div class="flex items-center gap-2">
		<h2 class="sheet-title">Part</h2>
		<input
			class="field min-w-0 flex-1 font-semibold"
			aria-label="name of the part"
			maxlength="120"
			value={part.name}
			onchange={(event) => {
				const name = event.currentTarget.value.trim();
				if (name) session.edit('Rename part', (doc) => updatePart(doc, part.id, { name }));
				else event.currentTarget.value = part.name;
			}}
		/>
		<ColourField
			label="colour"
			field={'part-colour' satisfies Field}
			class="h-7 w-9"
			value={colour}
			onpreview={previewColour}
			oncommit={(hex) => {
				previewColour(hex);
				colouring?.drag.commit();
				colouring = null;
			}}
			oncancel={() => {
				colouring?.drag.cancel();
				colouring = null;
			}}
		/>
		<button
			type="button"
			class="btn btn-square"
			aria-label="duplicate the part"
			title="Duplicate"
			onclick={() => copyPart(session, part, false)}><Copy size={14} /></button
		>
		<button
			type="button"
			class="btn btn-square"
			aria-label="duplicate the part with its keys"
			title="Duplicate with its keys in all clips"
			onclick={() => copyPart(session, part, true)}><CopyPlus size={14} /></button
		>
		<button
			type="button"
			class="btn btn-square"
			aria-label="delete the part"
			title="Delete the part and its children"
			onclick={() => deletePart(session, part)}><Trash size={14} /></button
		>
	</div>
	<table class="w-full border-separate border-spacing-y-0.5">
		<tbody>
			{#each rowsOf(part) as { head, continues, numbers } (head + numbers[0].component)}
				<PropertyRow {part} {head} {continues} {numbers} />
			{/each}
		</tbody>
	</table>
	<OwnNumbers {part} />
	{#if session.clip}
		<label
			class="flex items-center gap-1.5"
			title={volume.why ?? 'By formulas, which lanes and formula card show'}
		>
			<input
				type="checkbox"
				checked={volume.isKept}
				disabled={volume.why !== null}
				onchange={() => toggleVolume(session, part)}
			/>
			{isFlat ? 'Keep area' : 'Keep volume'}
			<span class="text-muted"
				>{volume.why ?? (isFlat ? 'scale x follows scale y' : 'scale x and z follow scale y')}</span
			>
		</label>
	{/if}
	<div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
		<Labelled text="parent">
			<select
				class="field max-w-[150px]"
				data-field={'part-parent' satisfies Field}
				value={part.parent ?? ''}
				onchange={(event) => {
					hangPart(session, part.id, event.currentTarget.value || null, keeps);
					event.currentTarget.value = part.parent ?? '';
				}}
			>
				<option value="">None</option>
				{#each parents as entry (entry.part.id)}<option value={entry.part.id}>{entry.part.name}</option
					>{/each}
			</select>
		</Labelled>
		<Labelled text="keep world position">
			<select class="field" aria-label="keep world position" bind:value={keeps}>
				<option value="now">At the playhead</option>
				<option value="clip">Throughout this clip, as keys</option>
				<option value="no">No</option>
			</select>
		</Labelled>
		{#if session.doc.project.space === 'world'}
			<Labelled text="Euler order">
				<select
					class="field"
					data-field={'part-euler' satisfies Field}
					title="The order in which the three angles turn the part, each about its own axes: the angles stay, the pose may change"
					value={part.eulerOrder}
					onchange={(event) => {
						const eulerOrder = event.currentTarget.value as EulerOrder;
						session.edit('Change Euler order', (doc) => updatePart(doc, part.id, { eulerOrder }));
					}}
				>
					{#each EULER_ORDERS as order (order)}<option value={order}>{order}</option>{/each}
				</select>
			</Labelled>
		{/if}
	</div>
	{#if session.selection.otherParts.length > 0}<AlignRow />{/if}
	<LookRow {part} />
	<PivotRow {part} />
	<p class="flex flex-wrap gap-2">
		<button type="button" class="btn" onclick={() => (session.asks.sheet = 'bounce')}
			>Drop and bounce …</button
		>
		<button
			type="button"
			class="btn"
			title="Keys the rest pose here, on all that moves in this clip"
			disabled={!hasChannels(session, part)}
			onclick={() => keyRest(session, part)}>Key rest pose</button
		>
		<button
			type="button"
			class="btn"
			title="What it shows now becomes its rest pose"
			onclick={() => restHere(session, part)}>Set as rest pose</button
		>
		<button
			type="button"
			class="btn"
			title="Takes all that moves it out of this clip: back to rest"
			disabled={!isMoved(session, part)}
			onclick={() => letRest(session, part)}>Remove animation from clip</button
		>
		<label class="flex items-center gap-1.5">
			<input
				type="checkbox"
				checked={part.visible}
				onchange={(event) => {
					const visible = event.currentTarget.checked;
					session.edit(visible ? 'Show part' : 'Hide part', (doc) => updatePart(doc, part.id, { visible }));
				}}
			/>
			Visible by default
		</label>
	</p>
</div>

<script lang="ts">
	import { toast } from 'svelte-sonner';
	import { indexAt } from '$core/curve/edit';
	import { numberIn, rotationIn } from '$core/clip/layout';
	import { decide, writeByHand, type Decision } from '$core/edits/by-hand';
	import { insertKey, removeKeys, setValue } from '$core/edits/keys';
	import { setRestValue } from '$core/edits/parts';
	import { channelId, componentsOf, formulaId, type Doc, type Part } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import type { PartNumber } from './part-numbers';
	import { unitAt } from '$core/document/units';
	import { stepOf } from '$lib/lanes/units';
	import { fieldOf } from '$lib/session/fields';
	import type { Drag } from '$lib/session/project.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import KeyDot from '$lib/ui/KeyDot.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { sentence } from '$lib/ui/sentence';

	interface Props {
		part: Part;
		head: string;
		/** Whether the row above says the same. */
		continues: boolean;
		numbers: readonly PartNumber[];
	}
	/** Some numbers of a part at the playhead, each with what keys it. */
	let { part, head, continues, numbers }: Props = $props();
	const session = useSession();
	const time = $derived(Math.round(session.transport.local));

	function channelOf({ property, component }: PartNumber) {
		const { clip, doc } = session;
		return clip ? doc.channels[channelId(clip.id, part.id, property, component)] : undefined;
	}
	function isComputed({ property, component }: PartNumber): boolean {
		const { clip, doc } = session;
		return clip !== null && doc.formulas[formulaId(clip.id, part.id, property, component)] !== undefined;
	}
	function now({ property, component }: PartNumber): number {
		return numberIn(session.posed, part, property, component);
	}
	/** Set at the playhead as was decided; without a clip there is only rest. */
	function put(doc: Doc, number: PartNumber, value: number): Doc {
		if (!decided) return setRestValue(doc, part.id, number.property, number.component, value);
		return writeByHand(doc, decided, number, value, rotationIn(session.posed, part));
	}
	let drag: Drag | null = null;
	let decided: Extract<Decision, { ok: true }> | null = null;
	function preview(number: PartNumber, value: number) {
		const { property, component } = number;
		if (!drag) {
			const hand = session.handOn(part.id, true);
			const decision = hand && decide(session.doc, hand, [number]);
			if (decision && !decision.ok) {
				toast('It cannot be changed here', { id: 'by-hand', description: decision.why });
				return;
			}
			decided = decision;
			drag = session.startDrag(`Set ${part.name} ${channelLabel(property, component, part)}`);
		}
		drag.update((doc) => put(doc, number, value));
	}
	function set(number: PartNumber, value: number) {
		preview(number, value);
		drag?.commit();
		drag = null;
	}
	function cancel() {
		drag?.cancel();
		drag = null;
	}
	function toggleKey(number: PartNumber) {
		const { clip } = session;
		if (!clip) return;
		const { property, component } = number;
		const id = channelId(clip.id, part.id, property, component);
		const channel = session.doc.channels[id];
		if (channel && indexAt(channel.keys, time) >= 0) {
			session.edit('Delete key', (doc) => removeKeys(doc, new Map([[id, new Set([time])]])));
			return;
		}
		const address = { clip: clip.id, part: part.id, property, component };
		session.edit('Set key', (doc) =>
			doc.channels[id] ? insertKey(doc, id, time) : setValue(doc, address, time, now(number)),
		);
	}
</script>

<tr>
	<th scope="row" class="w-[84px] text-left font-normal text-muted"
		><span class={continues ? 'sr-only' : ''}>{sentence(head)}</span></th
	>
	{#each numbers as number (number.property + number.component)}
		{@const { property, component, name, min, max } = number}
		{@const channel = channelOf(number)}
		{@const computed = isComputed(number)}
		{@const keyed = channel !== undefined && indexAt(channel.keys, time) >= 0}
		<td class="pr-1">
			<span class="flex items-center">
				<span class="mr-1 min-w-3 max-w-[72px] shrink-0 truncate text-xs text-muted" title={name}>{name}</span
				>
				<NumberField
					label="{part.name} {channelLabel(property, component, part)}"
					field={component === componentsOf(property)[0] ? fieldOf(property) : undefined}
					value={now(number)}
					unit={unitAt(session.doc, { part: part.id, property, component })}
					step={stepOf(session.doc, { part: part.id, property, component })}
					{min}
					{max}
					digits={2}
					disabled={computed}
					class="w-full min-w-0 {channel ? 'font-semibold' : ''}"
					onpreview={(v) => preview(number, v)}
					oncommit={(v) => set(number, v)}
					keysSame={channel !== undefined || session.isAutoKey}
					oncancel={cancel}
				/>
				<KeyDot
					{keyed}
					moves={channel !== undefined}
					label="{keyed ? 'delete key of' : 'key'} {part.name} {channelLabel(property, component, part)}"
					disabled={computed}
					title={computed ? 'Computed by a formula' : undefined}
					onclick={() => toggleKey(number)}
				/>
			</span>
		</td>
	{/each}
</tr>

<script lang="ts">
	import { indexAt } from '$core/curve/edit';
	import { POSE_STRIDE, slotOffset } from '$core/clip/compile';
	import { autoKey, insertKey, removeKeys, setValue } from '$core/document/edits/keys';
	import { setRestValue } from '$core/document/edits/parts';
	import { restValue } from '$core/document/rest';
	import { channelId, channelLabel, formulaId, type Doc, type Part } from '$core/document/types';
	import type { PartNumber } from './part-numbers';
	import { unitOf } from '$core/document/units';
	import { stepOf } from '$lib/lanes/units';
	import { useSession, type Drag } from '$lib/session/session.svelte';
	import { getsKey } from '$lib/stage/move-part';
	import NumberField from '$lib/ui/NumberField.svelte';

	interface Props {
		part: Part;
		head: string;
		numbers: readonly PartNumber[];
	}
	/** Some numbers of a part at the playhead, each with what keys it. */
	let { part, head, numbers }: Props = $props();
	const session = useSession();
	const space = $derived(session.doc.project.space);
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
		const index = session.compiled?.indexOfPart.get(part.id) ?? 0;
		return session.pose[index * POSE_STRIDE + slotOffset(property, component)] ?? 0;
	}
	/** A value set at the playhead: as a key where it is to get one, else as it rests. */
	function put(doc: Doc, { property, component }: PartNumber, value: number, keyed: boolean): Doc {
		const { clip } = session;
		if (!keyed || !clip) return setRestValue(doc, part.id, property, component, value);
		const address = { clip: clip.id, part: part.id, property, component };
		return autoKey(doc, address, time, value, restValue(part, property, component));
	}
	let drag: Drag | null = null;
	let keying = false;
	function preview(number: PartNumber, value: number) {
		const { property, component } = number;
		if (!drag) {
			const { clip } = session;
			const channel = channelOf(number);
			const place = clip && { ...session.keying, clip: clip.id, part: part.id, property, component, t: time };
			keying = place !== null && (channel !== undefined || getsKey(session.doc, place, channel));
			drag = session.startDrag(`Set ${part.name} ${channelLabel(property, component, part)}`);
		}
		drag.update((doc) => put(doc, number, value, keying));
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
	<th scope="row" class="w-[84px] text-left font-normal text-muted">{head}</th>
	{#each numbers as number (number.property + number.component)}
		{@const { property, component, name, min, max } = number}
		{@const channel = channelOf(number)}
		{@const computed = isComputed(number)}
		{@const keyed = channel !== undefined && indexAt(channel.keys, time) >= 0}
		<td class="pr-2">
			<span class="flex items-center gap-1">
				<span class="min-w-3 shrink-0 text-xs text-muted">{name}</span>
				<NumberField
					label="{part.name} {channelLabel(property, component, part)}"
					value={now(number)}
					unit={unitOf(property, space)}
					step={stepOf(property, space)}
					{min}
					{max}
					digits={2}
					disabled={computed}
					class="w-full min-w-0 {channel ? 'font-semibold' : ''}"
					onpreview={(v) => preview(number, v)}
					oncommit={(v) => set(number, v)}
					oncancel={cancel}
				/>
				<button
					type="button"
					class="size-[15px] shrink-0 rounded-full border-[1.5px] {keyed
						? 'border-lake bg-lake'
						: channel
							? 'border-lake'
							: 'border-rule'}"
					aria-label="{keyed ? 'delete key of' : 'key'} {channelLabel(property, component, part)}"
					aria-pressed={keyed}
					disabled={computed}
					title={computed ? 'Computed by a formula' : undefined}
					onclick={() => toggleKey(number)}
				></button>
			</span>
		</td>
	{/each}
</tr>

<script lang="ts">
	import Copy from '@lucide/svelte/icons/copy';
	import CopyPlus from '@lucide/svelte/icons/copy-plus';
	import Trash from '@lucide/svelte/icons/trash';
	import { indexAt } from '$core/curve/edit';
	import { POSE_STRIDE, slotOffset } from '$core/clip/compile';
	import { autoKey, insertKey, keyRestPose, removeKeys, setValue } from '$core/document/edits/keys';
	import {
		restFromPose,
		setRest,
		setRestComponent,
		updatePart,
		withDescendants,
	} from '$core/document/edits/parts';
	import {
		channelLabel,
		AXES,
		channelId,
		channelsOfClip,
		componentsOf,
		formulaId,
		restValue,
		type Component,
		type Vec3,
	} from '$core/document/types';
	import { hangPart, type Keeping } from '$lib/session/hang-part';
	import { meshOf } from '$core/drawing/mesh';
	import { copyPart, deletePart } from '$lib/session/new-things';
	import { useSession } from '$lib/session/session.svelte';
	import { stepOf, unitOf } from '$lib/lanes/units';
	import { getsKey } from '$lib/stage/move-part';
	import NumberField from '$lib/ui/NumberField.svelte';
	import BounceDialog from './BounceDialog.svelte';
	import PivotRow from './PivotRow.svelte';

	const session = useSession();
	const part = $derived(session.part!);
	const space = $derived(session.doc.project.space);
	const time = $derived(Math.round(session.transport.local));
	const parents = $derived.by(() => {
		const own = withDescendants(session.doc, part.id);
		return session.tree.filter((entry) => !own.has(entry.part.id));
	});
	const ROWS = ['translation', 'rotation', 'scale', 'opacity'] as const;
	type RowProperty = (typeof ROWS)[number];

	function channelOf(property: RowProperty, component: Component) {
		return session.clip
			? session.doc.channels[channelId(session.clip.id, part.id, property, component)]
			: undefined;
	}
	function isComputed(property: RowProperty, component: Component): boolean {
		const { clip, doc } = session;
		return clip !== null && doc.formulas[formulaId(clip.id, part.id, property, component)] !== undefined;
	}
	function now(property: RowProperty, component: Component): number {
		const index = session.compiled?.indexOfPart.get(part.id) ?? 0;
		return session.pose[index * POSE_STRIDE + slotOffset(property, component)] ?? 0;
	}
	function set(property: RowProperty, component: Component, value: number) {
		const channel = channelOf(property, component);
		const label = `Set ${part.name} ${channelLabel(property, component)}`;
		const clip = session.clip;
		const address = clip && { clip: clip.id, part: part.id, property, component };
		if (address && (channel || getsKey(session.doc, { ...session.keying, ...address, t: time }, channel))) {
			session.edit(label, (doc) => autoKey(doc, address, time, value, restValue(part, property, component)));
		} else if (property === 'opacity')
			session.edit(label, (doc) => setRest(doc, part.id, { opacity: value }));
		else
			session.edit(label, (doc) =>
				setRestComponent(doc, part.id, property, AXES.indexOf(component as 'x'), value),
			);
	}
	function toggleKey(property: RowProperty, component: Component) {
		const clip = session.clip;
		if (!clip) return;
		const id = channelId(clip.id, part.id, property, component);
		const channel = session.doc.channels[id];
		if (channel && indexAt(channel.keys, time) >= 0) {
			session.edit('Delete key', (doc) => removeKeys(doc, new Map([[id, new Set([time])]])));
			return;
		}
		const address = { clip: clip.id, part: part.id, property, component };
		session.edit('Set key', (doc) =>
			doc.channels[id] ? insertKey(doc, id, time) : setValue(doc, address, time, now(property, component)),
		);
		session.channelId = id;
	}
	const moves = $derived(
		session.clip !== null &&
			channelsOfClip(session.doc, session.clip.id).some((channel) => channel.part === part.id),
	);
	let dropping = $state(false);
	/** Where it is above its ground: the world's zero, or the lower edge of what is on the screen. */
	const ground = $derived(space === 'world' ? 0 : now('translation', 'y') + 200);
	const height = $derived(Math.abs(now('translation', 'y') - ground));

	/** How a part is kept in its place when it gets another parent. */
	let keeps = $state<Keeping>('now');
	let wrongPath = $state<string | null>(null);
	$effect(() => {
		void part.id;
		wrongPath = null;
	});
	/** Takes a path that draws something; what does not is told, and nothing changes. */
	function setPath(d: string) {
		const { drawing, id } = part;
		if (drawing.kind !== 'path') return;
		const next = { ...drawing, d: d.trim() };
		try {
			const mesh = meshOf(next, space);
			wrongPath = mesh && mesh.positions.length > 0 ? null : 'This path encloses nothing.';
		} catch (error) {
			wrongPath = error instanceof Error ? error.message : String(error);
		}
		if (wrongPath === null) session.edit('Change path', (doc) => updatePart(doc, id, { drawing: next }));
	}
	function resize(axis: number, value: number) {
		const { drawing } = part;
		if (!('size' in drawing)) return;
		const size: Vec3 = [...drawing.size];
		size[axis] = value;
		session.edit('Change size', (doc) => updatePart(doc, part.id, { drawing: { ...drawing, size } }));
	}
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
		<input
			type="color"
			class="h-7 w-9 rounded-md border border-rule bg-sheet p-0.5"
			aria-label="colour"
			value={part.colour}
			onchange={(event) =>
				session.edit('Change colour', (doc) =>
					updatePart(doc, part.id, { colour: event.currentTarget.value }),
				)}
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
			title="Delete part, with what hangs below it"
			onclick={() => deletePart(session, part)}><Trash size={14} /></button
		>
	</div>
	<table class="w-full border-separate border-spacing-y-0.5">
		<tbody>
			{#each ROWS as property (property)}
				<tr>
					<th scope="row" class="w-[84px] text-left font-normal text-muted">{property}</th>
					{#each componentsOf(property) as component (component)}
						{@const channel = channelOf(property, component)}
						{@const computed = isComputed(property, component)}
						{@const keyed = channel !== undefined && indexAt(channel.keys, time) >= 0}
						<td class="pr-2">
							<span class="flex items-center gap-1">
								<span class="w-3 text-xs text-muted">{component === 'value' ? '' : component}</span>
								<NumberField
									label="{part.name} {channelLabel(property, component)}"
									value={now(property, component)}
									unit={unitOf(property, space)}
									step={stepOf(property, space)}
									min={property === 'opacity' ? 0 : undefined}
									max={property === 'opacity' ? 1 : undefined}
									digits={2}
									disabled={computed}
									class="w-full min-w-0 {channel ? 'font-semibold' : ''}"
									oncommit={(v) => set(property, component, v)}
								/>
								<button
									type="button"
									class="size-[15px] shrink-0 rounded-full border-[1.5px] {keyed
										? 'border-lake bg-lake'
										: channel
											? 'border-lake'
											: 'border-rule'}"
									aria-label="{keyed ? 'delete key of' : 'key'} {channelLabel(property, component)}"
									aria-pressed={keyed}
									disabled={computed}
									title={computed ? 'Computed by a formula' : undefined}
									onclick={() => toggleKey(property, component)}
								></button>
							</span>
						</td>
					{/each}
				</tr>
			{/each}
		</tbody>
	</table>
	<div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
		<label class="flex items-center gap-1.5">
			<span class="text-muted">hangs on</span>
			<select
				class="field max-w-[150px]"
				value={part.parent ?? ''}
				onchange={(event) => {
					hangPart(session, part.id, event.currentTarget.value || null, keeps);
					event.currentTarget.value = part.parent ?? '';
				}}
			>
				<option value="">nothing</option>
				{#each parents as entry (entry.part.id)}<option value={entry.part.id}>{entry.part.name}</option
					>{/each}
			</select>
		</label>
		<label class="flex items-center gap-1.5">
			<span class="text-muted">staying in its place</span>
			<select class="field" aria-label="how it stays in its place" bind:value={keeps}>
				<option value="now">at the playhead</option>
				<option value="clip">all through this clip, as keys</option>
				<option value="no">not</option>
			</select>
		</label>
		{#if 'size' in part.drawing}
			{@const size = part.drawing.size}
			<span class="flex items-center gap-1">
				<span class="text-muted">{part.drawing.kind}</span>
				{#each ['width', 'height', 'depth'] as name, axis (name)}
					<NumberField
						label={name}
						value={size[axis]}
						min={0}
						max={1e6}
						digits={2}
						step={stepOf('translation', space)}
						class="w-[58px]"
						oncommit={(v) => resize(axis, v)}
					/>
				{/each}
			</span>
		{/if}
		{#if part.drawing.kind === 'path'}
			{@const drawing = part.drawing}
			<label class="flex min-w-0 flex-1 items-center gap-1.5">
				<span class="text-muted">SVG path</span>
				<input
					class="field min-w-[120px] flex-1 font-mono text-xs {wrongPath ? '!border-rust' : ''}"
					aria-label="SVG path of the part"
					aria-invalid={wrongPath !== null}
					maxlength="20000"
					value={drawing.d}
					onchange={(event) => setPath(event.currentTarget.value)}
				/>
			</label>
			{#if wrongPath}<p class="w-full text-rust">{wrongPath}</p>{/if}
		{/if}
		{#if part.drawing.kind === 'label'}
			{@const drawing = part.drawing}
			<label class="flex items-center gap-1.5">
				<span class="text-muted">text</span>
				<input
					class="field"
					maxlength="400"
					value={drawing.text}
					onchange={(event) =>
						session.edit('Change text', (doc) =>
							updatePart(doc, part.id, { drawing: { ...drawing, text: event.currentTarget.value } }),
						)}
				/>
			</label>
		{/if}
	</div>
	<PivotRow {part} />
	<p class="flex flex-wrap gap-2">
		<button type="button" class="btn" onclick={() => (dropping = true)}>drop and bounce …</button>
		<button
			type="button"
			class="btn"
			title="Keys the rest pose here, on all that moves in this clip"
			disabled={!moves}
			onclick={() => {
				const { clip } = session;
				if (clip)
					session.edit(`Key the rest pose of ${part.name}`, (doc) =>
						keyRestPose(doc, clip.id, part.id, time),
					);
			}}>key rest</button
		>
		<button
			type="button"
			class="btn"
			title="What it shows now becomes its rest pose"
			onclick={() => {
				const at = (session.compiled?.indexOfPart.get(part.id) ?? 0) * POSE_STRIDE;
				const pose = session.pose.slice();
				session.edit(`Rest ${part.name} here`, (doc) => restFromPose(doc, part.id, pose, at));
			}}>rest here</button
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
			shown where no key says otherwise
		</label>
	</p>
</div>
<BounceDialog bind:open={dropping} {part} {height} {ground} />

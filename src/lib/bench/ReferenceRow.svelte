<script lang="ts">
	import { updateClip } from '$core/edits/clips';
	import type { Reference, Sound } from '$core/document/types';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import { takeReference } from '$lib/acts/reference-files';
	import type { Field } from '$lib/session/fields';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';

	/** The picture or film behind the stage, and the sound under the ruler: put in, placed, taken away. */
	const session = useSession();
	const clip = $derived(session.clip!);
	const reference = $derived(clip.reference);
	const sound = $derived(clip.sound);
	const isWorld = $derived(session.doc.project.space === 'world');
	let busy = $state(false);

	function change(next: Partial<Reference>) {
		const { id } = clip;
		session.edit('Change reference', (doc) =>
			doc.clips[id].reference
				? updateClip(doc, id, { reference: { ...doc.clips[id].reference, ...next } })
				: doc,
		);
	}
	async function take(file: File | undefined) {
		if (!file) return;
		busy = true;
		await takeReference(session, file);
		busy = false;
	}
	function changeSound(next: Partial<Sound>) {
		const { id } = clip;
		session.edit('Change sound', (doc) =>
			doc.clips[id].sound ? updateClip(doc, id, { sound: { ...doc.clips[id].sound, ...next } }) : doc,
		);
	}
	function remove(member: 'reference' | 'sound') {
		const { id } = clip;
		session.edit(`Take the ${member} away`, (doc) => {
			const rest = { ...doc.clips[id] };
			delete rest[member];
			return { ...doc, clips: { ...doc.clips, [id]: rest } };
		});
	}
	const NUMBERS = $derived([
		{ label: 'x', name: 'middle of the reference, x', member: 'x' as const, step: isWorld ? 0.05 : 5 },
		{ label: 'y', name: 'middle of the reference, y', member: 'y' as const, step: isWorld ? 0.05 : 5 },
		{ label: 'width', name: 'width of the reference', member: 'width' as const, step: isWorld ? 0.05 : 5 },
	]);
</script>

<div class="rounded-md border border-rule p-2">
	<h3 class="sheet-title mb-1">
		Reference {#if reference}<span class="font-normal text-muted">{reference.name}</span>{/if}
	</h3>
	{#if reference}
		<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
			{#each NUMBERS as { label, name, member, step } (member)}
				<Labelled text={label}>
					<NumberField
						label={name}
						value={reference[member]}
						unit={isWorld ? ' m' : ' px'}
						digits={2}
						{step}
						min={member === 'width' ? 0.01 : -1e6}
						max={1e6}
						class="w-[72px] !min-h-[24px]"
						oncommit={(v) => change({ [member]: v })}
					/>
				</Labelled>
			{/each}
			<Labelled text="opacity">
				<NumberField
					label="opacity of the reference"
					value={reference.opacity * 100}
					unit=" %"
					digits={0}
					min={0}
					max={100}
					class="w-[58px] !min-h-[24px]"
					oncommit={(v) => change({ opacity: v / 100 })}
				/>
			</Labelled>
			{#if reference.kind === 'film'}
				<Labelled text="starts at">
					<FrameField
						label="frame at which the film begins"
						value={ticksToFrame(reference.begins, session.frameRate)}
						digits={1}
						min={-18_000}
						max={18_000}
						class="w-[66px] !min-h-[24px]"
						oncommit={(v) => change({ begins: Math.round(frameToTicks(v, session.frameRate)) })}
					/>
				</Labelled>
				<Labelled text="speed">
					<NumberField
						label="speed of the film in percent"
						value={reference.rate * 100}
						unit=" %"
						digits={0}
						min={5}
						max={2000}
						class="w-[62px] !min-h-[24px]"
						oncommit={(v) => change({ rate: v / 100 })}
					/>
				</Labelled>
			{/if}
			<button type="button" class="btn ml-auto !min-h-[24px]" onclick={() => remove('reference')}
				>Remove</button
			>
		</div>
	{/if}
	{#if sound}
		<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
			<span>sound <span class="text-muted">{sound.name}</span></span>
			<Labelled text="starts at">
				<FrameField
					label="frame at which the sound begins"
					value={ticksToFrame(sound.begins, session.frameRate)}
					digits={1}
					min={-18_000}
					max={18_000}
					class="w-[66px] !min-h-[24px]"
					oncommit={(v) => changeSound({ begins: Math.round(frameToTicks(v, session.frameRate)) })}
				/>
			</Labelled>
			<Labelled text="volume">
				<NumberField
					label="volume of the sound in percent"
					value={sound.gain * 100}
					unit=" %"
					digits={0}
					min={0}
					max={400}
					class="w-[58px] !min-h-[24px]"
					oncommit={(v) => changeSound({ gain: v / 100 })}
				/>
			</Labelled>
			<button
				type="button"
				class="btn ml-auto !min-h-[24px]"
				aria-label="remove the sound"
				onclick={() => remove('sound')}>Remove</button
			>
		</div>
	{/if}
	<label
		class="btn mt-1 inline-flex !min-h-[24px] cursor-pointer items-center focus-within:ring-2 focus-within:ring-lake"
	>
		{busy ? 'Loading …' : 'Add image, video or audio …'}
		<input
			type="file"
			class="sr-only"
			aria-label="reference: image, video or audio"
			data-field={'clip-reference' satisfies Field}
			accept="image/png,image/jpeg,image/webp,image/svg+xml,video/mp4,video/webm,audio/wav,audio/mpeg,audio/ogg,audio/flac"
			disabled={busy}
			onchange={(event) => {
				void take(event.currentTarget.files?.[0]);
				event.currentTarget.value = '';
			}}
		/>
	</label>
</div>

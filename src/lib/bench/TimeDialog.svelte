<script lang="ts">
	import { offerWholeFrames } from '$lib/acts/whole-frames';
	import { holdPose, openGap } from '$core/edits/retime';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import { NO_KEYS } from '$lib/session/selection.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import Sheet from '$lib/ui/Sheet.svelte';

	/** Puts time into the clip at the playhead, or takes it out: what comes later moves. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	const { transport } = session;
	/** As it was the last time. */
	let frames = $state(6);
	let change = $state<'insert' | 'hold' | 'remove'>('insert');
	const CHANGES = [
		{ value: 'insert', label: 'Insert, stretching what crosses the playhead' },
		{ value: 'hold', label: 'Insert, holding the pose at the playhead' },
		{ value: 'remove', label: 'Remove the time before the playhead' },
	] as const;
	const LABELS = { insert: 'Insert time', hold: 'Hold the pose', remove: 'Remove time' } as const;

	$effect(() => {
		if (open) change = session.asks.timeChange;
	});
	const here = $derived(Math.round(transport.local));
	const ticks = $derived(frameToTicks(frames, session.frameRate));
	/** Time that is not there cannot be removed. */
	const wrong = $derived(
		change === 'remove' && ticks > here
			? `There are ${writeNumber(ticksToFrame(here, session.frameRate), 2)} frames before the playhead.`
			: '',
	);

	function apply() {
		const { clip, doc: before } = session;
		if (!clip || wrong !== '') return;
		session.edit(LABELS[change], (doc) => ({
			doc:
				change === 'hold'
					? holdPose(doc, clip, here, ticks, session.view.cuesToo)
					: openGap(doc, clip, here, change === 'insert' ? ticks : -ticks, session.view.cuesToo),
			keys: NO_KEYS,
		}));
		offerWholeFrames(session, before);
		if (change === 'remove') transport.seek(here - ticks);
		open = false;
	}
</script>

<Sheet
	bind:open
	title="Insert or remove time"
	about="At frame {writeNumber(
		ticksToFrame(here, session.frameRate),
		2,
	)}: all keys after it move, and the end of the clip."
	width="w-[380px]"
>
	<div class="mt-3 flex flex-col gap-2">
		<label class="flex items-center justify-between gap-2">
			<span class="text-muted">Frames, or a time such as 0.5 s</span>
			<FrameField
				label="time to insert or remove"
				value={frames}
				min={0.01}
				max={18_000}
				class="w-[90px]"
				oncommit={(v) => (frames = v)}
			/>
		</label>
		<fieldset class="flex flex-col gap-1">
			<legend class="sr-only">what is done</legend>
			{#each CHANGES as { value, label } (value)}
				<label class="flex items-center gap-2">
					<input type="radio" name="time-change" {value} bind:group={change} />
					{label}
				</label>
			{/each}
		</fieldset>
		<label class="flex items-center gap-2">
			<input
				type="checkbox"
				checked={session.view.cuesToo}
				onchange={(event) => session.view.setCuesToo(event.currentTarget.checked)}
			/>
			Cues move too
		</label>
		<p class="min-h-[18px] text-rust" role="status">{wrong}</p>
	</div>
	{#snippet actions()}
		<button type="button" class="btn btn-main" disabled={wrong !== ''} onclick={apply}
			>{LABELS[change]}</button
		>
	{/snippet}
</Sheet>

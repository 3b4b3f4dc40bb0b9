<script lang="ts">
	import { offerWholeFrames } from '$lib/acts/whole-frames';
	import { updateClip } from '$core/edits/clips';
	import { changeFrameRate, stretchClip } from '$core/edits/retime';
	import type { Loop, LoopMode } from '$player/loop';
	import { frameToTicks, MAX_CLIP_TICKS, pictureCount, ticksToFrame } from '$core/time';
	import { ticksToSeconds } from '$player/time';
	import type { Field } from '$lib/session/fields';
	import { useSession } from '$lib/session/session.svelte';

	import BlendList from './BlendList.svelte';
	import ReferenceRow from './ReferenceRow.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	const session = useSession();
	const clip = $derived(session.clip!);
	const rate = $derived(session.frameRate);
	const MODES: { mode: LoopMode; label: string }[] = [
		{ mode: 'once', label: 'Once' },
		{ mode: 'repeat', label: 'Repeat' },
		{ mode: 'alternate', label: 'Alternate' },
	];
	let lengthMode = $state<'keep' | 'stretch'>('keep');
	let rateMode = $state<'seconds' | 'frames'>('seconds');

	function setLength(frames: number) {
		const length = Math.min(MAX_CLIP_TICKS, Math.max(1, frameToTicks(frames, rate)));
		const before = session.doc;
		if (lengthMode === 'stretch') {
			session.edit('Stretch clip', (doc) => stretchClip(doc, doc.clips[clip.id], length));
			offerWholeFrames(session, before);
		} else session.edit('Clip length', (doc) => updateClip(doc, clip.id, { length }));
	}
	function loop(change: Partial<Loop>) {
		session.edit('Change loop', (doc) => updateClip(doc, clip.id, { loop: { ...clip.loop, ...change } }));
	}
</script>

<div class="flex flex-col gap-2.5">
	<div class="flex items-center gap-2">
		<h2 class="sheet-title">Clip</h2>
		<input
			class="field min-w-0 flex-1 font-semibold"
			aria-label="name of the clip"
			data-field={'clip-name' satisfies Field}
			maxlength="120"
			value={clip.name}
			onchange={(event) => {
				const name = event.currentTarget.value.trim();
				if (name) session.edit('Rename clip', (doc) => updateClip(doc, clip.id, { name }));
				else event.currentTarget.value = clip.name;
			}}
		/>
	</div>
	<div class="flex flex-wrap items-center gap-x-4 gap-y-2">
		<Labelled text="length">
			<FrameField
				label="length in frames"
				field="clip-length"
				value={ticksToFrame(clip.length, rate)}
				digits={1}
				min={1}
				class="w-[72px]"
				oncommit={setLength}
			/>
			<select class="field !min-h-[28px]" aria-label="what a new length does" bind:value={lengthMode}>
				<option value="keep">Keys stay</option>
				<option value="stretch">Keys stretch</option>
			</select>
			<span class="font-mono text-xs text-muted"
				>{writeNumber(ticksToSeconds(clip.length), 3)} s · {pictureCount(
					clip.length,
					rate,
					clip.loop.mode === 'repeat',
				)} frames</span
			>
		</Labelled>
		<Labelled text="frame rate (fps)">
			<NumberField
				label="frame rate"
				field="clip-rate"
				value={rate}
				digits={0}
				min={1}
				max={240}
				class="w-[52px]"
				oncommit={(v) =>
					session.edit('Change frame rate', (doc) => changeFrameRate(doc, Math.round(v), rateMode))}
			/>
			<select class="field !min-h-[28px]" aria-label="what a new frame rate keeps" bind:value={rateMode}>
				<option value="seconds">Keep seconds</option>
				<option value="frames">Keep frames</option>
			</select>
		</Labelled>
	</div>
	<div class="flex flex-wrap items-center gap-x-4 gap-y-2">
		<span
			class="flex overflow-hidden rounded-md border border-rule"
			role="group"
			aria-label="loop"
			data-field={'clip-loop' satisfies Field}
		>
			{#each MODES as { mode, label } (mode)}
				<button
					type="button"
					class="min-h-[28px] px-2.5 {clip.loop.mode === mode
						? 'bg-moss font-semibold text-moss-ink'
						: 'bg-sheet'}"
					aria-pressed={clip.loop.mode === mode}
					onclick={() => loop({ mode })}>{label}</button
				>
			{/each}
		</span>
		{#if clip.loop.mode !== 'once'}
			<Labelled text="iterations">
				<NumberField
					label="iterations, 0 for endless"
					value={clip.loop.count ?? 0}
					digits={0}
					min={0}
					max={10_000}
					class="w-[52px]"
					oncommit={(v) => loop({ count: v < 1 ? null : Math.round(v) })}
				/>
				<span class="text-muted">{clip.loop.count === null ? '∞' : ''}</span>
			</Labelled>
			<Labelled text="pause between">
				<FrameField
					label="pause between iterations in frames"
					value={ticksToFrame(clip.loop.pause, rate)}
					digits={1}
					min={0}
					class="w-[60px]"
					oncommit={(v) => loop({ pause: Math.min(MAX_CLIP_TICKS, frameToTicks(v, rate)) })}
				/>
			</Labelled>
		{/if}
	</div>
	<label class="flex items-start gap-1.5">
		<span class="pt-1 text-muted">Note</span>
		<textarea
			class="field min-h-[44px] flex-1 py-1"
			aria-label="note"
			data-field={'clip-note' satisfies Field}
			rows="2"
			maxlength="4000"
			value={clip.note}
			onchange={(event) =>
				session.edit('Change note', (doc) => updateClip(doc, clip.id, { note: event.currentTarget.value }))}
		></textarea>
	</label>
	<BlendList />
	<ReferenceRow />
</div>

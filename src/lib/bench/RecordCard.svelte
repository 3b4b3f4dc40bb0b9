<script lang="ts">
	import Circle from '@lucide/svelte/icons/circle';
	import Square from '@lucide/svelte/icons/square';
	import { onMount } from 'svelte';
	import hookUrl from '../../../demo/recordings/hook.csv?url';
	import walkUrl from '../../../demo/recordings/walk.bvh?url';
	import type { TakeColumn } from '$core/document/takes';
	import { unitAt } from '$core/document/units';
	import { recorderOf } from '$lib/acts/recorder.svelte';
	import type { Device } from '$lib/acts/recorder-settings.svelte';
	import { takesOf } from '$lib/acts/takes';
	import { useSession } from '$lib/session/session.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import ChannelPicker from './ChannelPicker.svelte';
	import RecordDevice from './RecordDevice.svelte';
	import RecordLatency from './RecordLatency.svelte';
	import { ACCEPTED } from '$core/formats/registry';
	import { layWorkOf } from '$lib/acts/lay-work.svelte';
	import type { Field } from '$lib/session/fields';
	import TakeLaying from './TakeLaying.svelte';
	import TakeList from './TakeList.svelte';

	/** Acting a motion live: what is driven, by what, and the takes that came of it. */
	const session = useSession();
	const recorder = recorderOf(session);
	const laying = layWorkOf(session);
	const NAMES: Record<Device, string> = {
		pointer: 'pointer on the stage',
		stick: 'stick on the screen',
		slider: 'slider',
		knob: 'knob',
		keys: 'arrow keys',
		pad: 'gamepad',
		microphone: 'microphone level',
		sound: 'sound of the clip',
	};
	/** Recordings that come with the demo. */
	const TRIED = [
		{ name: 'hook.csv', says: 'A crane’s hook', url: hookUrl },
		{ name: 'walk.bvh', says: 'A walk', url: walkUrl },
	];
	const SPEEDS = [0.25, 0.5, 0.75, 1];
	const SECONDS = [0, 1, 2, 3, 4];
	const AXES = [
		{ axis: 'across', text: 'Left and right' },
		{ axis: 'up', text: 'Up and down' },
	] as const;
	const isBusy = $derived(recorder.phase !== 'rest');
	const single = $derived(recorder.isSingle);
	const axes = $derived(AXES.filter(({ axis }) => !single || axis === 'across'));
	/** The pointer on the stage takes a part along by itself. */
	const follows = (column: TakeColumn | null) =>
		recorder.device === 'pointer' && !recorder.isAlongPath && column?.property === 'translation';
	const canFollow = $derived(recorder.path.length > 0 && recorder.device !== 'sound');
	const canHold = $derived(['pointer', 'stick', 'slider', 'knob'].includes(recorder.device));
	const count = $derived(session.clipId === null ? 0 : takesOf(session.doc, session.clipId).length);

	function pick(axis: 'across' | 'up', column: TakeColumn | null) {
		recorder.drives = { ...recorder.chosen, [axis]: column };
		recorder.reach = { ...recorder.reach, [axis]: null };
	}
	onMount(() => () => void recorder.stop());
</script>

{#if laying.take}<TakeLaying work={laying} />{:else}{@render recording()}{/if}

{#snippet seconds(text: string, value: number, onpick: (value: number) => void, title: string)}
	<Labelled {text}>
		<select
			class="field !min-h-[24px]"
			aria-label={text}
			{title}
			{value}
			disabled={isBusy}
			onchange={(event) => onpick(Number(event.currentTarget.value))}
		>
			{#each SECONDS as own (own)}<option value={own}>{own === 0 ? 'none' : `${own} s`}</option>{/each}
		</select>
	</Labelled>
{/snippet}

{#snippet recording()}
	<div class="flex flex-col gap-2">
		<div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
			<button
				type="button"
				class="btn !min-h-[28px] flex items-center gap-1.5 {recorder.isOn ? '!border-rust text-rust' : ''}"
				aria-pressed={recorder.isOn}
				disabled={recorder.phase === 'keeping'}
				title={recorder.isOn
					? 'Stop, and keep what was recorded (C); Escape throws it away'
					: (recorder.why ?? 'Count in, then record from the playhead to the end (C)')}
				onclick={() => recorder.toggle()}
			>
				{#if recorder.isOn}<Square size={12} fill="currentColor" /> Stop{:else}<Circle
						size={12}
						fill="currentColor"
						class="text-rust"
					/> Record{/if}
			</button>
			<Labelled text="with">
				<select
					class="field !min-h-[24px]"
					aria-label="device"
					data-field="record-device"
					bind:value={recorder.device}
					disabled={isBusy}
				>
					{#each Object.entries(NAMES) as [device, name] (device)}<option value={device}>{name}</option
						>{/each}
				</select>
			</Labelled>
			<Labelled text="speed">
				<select
					class="field !min-h-[24px]"
					aria-label="speed while recording"
					title="Act slowly: the clip plays slower while you record, and what you did plays as fast as the clip"
					bind:value={recorder.speed}
					disabled={isBusy}
				>
					{#each SPEEDS as speed (speed)}<option value={speed}>{100 * speed} %</option>{/each}
				</select>
			</Labelled>
			{@render seconds(
				'count-in',
				recorder.countIn,
				(v) => (recorder.countIn = v),
				'A click each second before it begins',
			)}
		</div>
		{#if !isBusy && recorder.why !== null}<p class="text-muted">{recorder.why}</p>{/if}
		<div class="grid grid-cols-[auto_minmax(140px,1fr)_auto] items-center gap-x-2 gap-y-1">
			{#each axes as { axis, text } (axis)}
				{@const column = recorder.driven[axis]}
				<span class="text-muted">{single ? 'Drives' : text}</span>
				<ChannelPicker
					label="{text.toLowerCase()} drives"
					value={column}
					none="nothing"
					onpick={(chosen) => pick(axis, chosen)}
				/>
				{#if column && follows(column)}
					<span class="text-muted" title="The part goes where the pointer goes">as the pointer</span>
				{:else if column}
					<NumberField
						label="full way, {text.toLowerCase()}"
						value={recorder.reachOf(axis)}
						unit={unitAt(session.doc, column)}
						digits={3}
						step={0.1}
						min={-1e6}
						max={1e6}
						class="w-[84px] !min-h-[24px]"
						disabled={isBusy}
						oncommit={(v) => (recorder.reach = { ...recorder.reach, [axis]: v })}
					/>
				{:else}<span></span>{/if}
			{/each}
		</div>
		<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
			<Labelled text="what is there">
				<select
					class="field !min-h-[24px]"
					aria-label="what is there"
					bind:value={recorder.mode}
					disabled={isBusy}
				>
					<option value="replace">is replaced</option>
					<option value="add">is added to</option>
				</select>
			</Labelled>
			{@render seconds(
				'lead-in',
				recorder.leadIn,
				(v) => (recorder.leadIn = v),
				'Plays so long before the range begins; what you do there is not recorded',
			)}
			<label
				class="flex items-center gap-1.5"
				class:opacity-50={!canFollow}
				title={canFollow
					? 'The part stays on its path: the device says how far along it is'
					: 'The part that is driven has no path yet: give its translation two keys'}
			>
				<input type="checkbox" bind:checked={recorder.keepsPath} disabled={isBusy || !canFollow} /> Along its path
			</label>
			<label class="flex items-center gap-1.5" class:opacity-50={!canHold}>
				<input type="checkbox" bind:checked={recorder.onlyHeld} disabled={isBusy || !canHold} /> Only while held
			</label>
			<label
				class="flex items-center gap-1.5"
				title="Goes on from the start at the end, each round a take; the last one is put"
			>
				<input type="checkbox" bind:checked={recorder.goesRound} disabled={isBusy} /> Round after round
			</label>
		</div>
		<RecordDevice {recorder} />
		<RecordLatency {recorder} />
		<div class="flex flex-wrap items-center gap-2 border-t border-rule pt-2">
			<label
				class="btn inline-flex !min-h-[24px] cursor-pointer items-center self-start focus-within:ring-2 focus-within:ring-lake"
				title="BVH, CSV, glTF, X3D, samples as JSON: laid on parts of this project"
			>
				Bring in a recording …
				<input
					type="file"
					class="sr-only"
					aria-label="recording from a file"
					data-field={'recording-file' satisfies Field}
					accept={ACCEPTED}
					onchange={(event) => {
						const file = event.currentTarget.files?.[0];
						if (file)
							void import('$lib/acts/bring-recording').then((own) => own.bringRecording(session, file));
						event.currentTarget.value = '';
					}}
				/>
			</label>
			<span class="text-muted">or try one:</span>
			{#each TRIED as { name, says, url } (name)}
				<button
					type="button"
					class="btn !min-h-[24px]"
					title="{says}, made up: {name}"
					onclick={() =>
						void import('$lib/acts/bring-recording').then((own) => own.bringSample(session, name, url))}
					>{says}</button
				>
			{/each}
		</div>
		{#if count > 0}<TakeList />{:else}
			<p class="text-muted">
				What you record is kept as a take, and becomes a few keys that you can edit. You can clean it again at
				any time.
			</p>
		{/if}
	</div>
{/snippet}

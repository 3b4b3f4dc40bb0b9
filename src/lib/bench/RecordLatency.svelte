<script lang="ts">
	import type { Recorder } from '$lib/acts/recorder.svelte';
	import { LEAST_TAPS, tappedLatency } from '$lib/acts/tapped-latency';
	import { soundClick } from '$lib/ui/click-sound';
	import Labelled from '$lib/ui/Labelled.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';

	/** What is taken off the times of a recording: typed, or measured by tapping along with clicks. */
	let { recorder }: { recorder: Recorder } = $props();

	const CLICKS = 8;
	const APART_MS = 600;
	const HERTZ = 1200;
	let ms = $derived(recorder.latency);
	let isMeasuring = $state(false);
	let heard = $state(0);
	let told = $state('');
	let clicks: number[] = [];
	let taps: number[] = [];
	let sound: AudioContext | null = null;
	let timer: ReturnType<typeof setTimeout> | undefined;

	function set(next: number) {
		recorder.latency = next;
		ms = next;
	}
	function start() {
		sound = new AudioContext();
		[clicks, taps, heard, told] = [[], [], 0, ''];
		isMeasuring = true;
		timer = setTimeout(next, APART_MS);
	}
	/** The time at which what sounds now is heard, where the browser knows. */
	function heardAt(): number {
		const { baseLatency = 0, outputLatency = 0 } = sound!;
		return performance.now() + 1000 * (baseLatency + outputLatency);
	}
	function next() {
		if (!sound) return;
		if (clicks.length === CLICKS) {
			end();
			return;
		}
		soundClick(sound, HERTZ);
		clicks.push(heardAt());
		heard = clicks.length;
		timer = setTimeout(next, APART_MS);
	}
	function end() {
		stop();
		const measured = tappedLatency(clicks, taps);
		told = measured === null ? `That were too few taps along with the clicks: ${LEAST_TAPS} at least.` : '';
		if (measured !== null) set(measured);
	}
	function stop() {
		clearTimeout(timer);
		void sound?.close();
		sound = null;
		isMeasuring = false;
	}
	$effect(() => stop);
	const tap = (event: Event) => taps.push(event.timeStamp);
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
	<Labelled text="latency">
		<NumberField
			label="latency"
			field="record-latency"
			value={ms}
			unit=" ms"
			digits={0}
			min={0}
			max={500}
			class="w-[72px] !min-h-[24px]"
			oncommit={set}
		/>
	</Labelled>
	{#if isMeasuring}
		<button
			type="button"
			class="btn !min-h-[24px] !border-moss"
			onpointerdown={tap}
			onkeydown={(event) => {
				if (event.key === 'Escape') stop();
				else if (!event.repeat && !['Tab', 'Shift'].includes(event.key)) tap(event);
			}}>Tap here along with the clicks: {heard} of {CLICKS}</button
		>
	{:else}
		<button
			type="button"
			class="btn !min-h-[24px]"
			title="How late your hands come behind what you see and hear: it is taken off what you record"
			onclick={start}>Measure</button
		>
		{#if told}<span class="text-muted" role="status">{told}</span>{/if}
	{/if}
</div>

<script lang="ts">
	import { onDestroy } from 'svelte';
	import type { Sound } from '$core/document/types';
	import { secondsToTicks, ticksToSeconds } from '$player/time';
	import { addresses } from '$lib/api/client';
	import { useSession } from '$lib/session/session.svelte';
	import type { LaneView } from './lane-view.svelte';

	/** A sound as a waveform behind the ruler, heard while the clip plays. */
	let { sound, view }: { sound: Sound; view: LaneView } = $props();
	const session = useSession();
	const { transport } = session;

	const HEIGHT = 34;
	/** Loudness is kept for so many stretches a second. */
	const PEAKS = 200;
	let context: AudioContext | null = null;
	let buffer = $state.raw<AudioBuffer | null>(null);
	let failed = $state(false);
	let source: AudioBufferSourceNode | null = null;
	let sounding = $state(false);
	/** Where the sound that is heard was started: ticks of the clip, and the context's clock. */
	let started = { ticks: 0, at: 0 };

	$effect(() => {
		const path = addresses.asset(session.project.id, sound.asset);
		let gone = false;
		buffer = null;
		failed = false;
		void (async () => {
			const response = await fetch(path);
			if (!response.ok) throw new Error(response.statusText);
			context ??= new AudioContext();
			const decoded = await context.decodeAudioData(await response.arrayBuffer());
			if (!gone) buffer = decoded;
		})().catch(() => (failed = !gone));
		return () => (gone = true);
	});

	const peaks = $derived.by(() => {
		if (!buffer) return new Float32Array(0);
		const samples = buffer.getChannelData(0);
		const step = Math.max(1, Math.floor(buffer.sampleRate / PEAKS));
		const list = new Float32Array(Math.ceil(samples.length / step));
		for (let i = 0; i < samples.length; i++) {
			const at = Math.floor(i / step);
			list[at] = Math.max(list[at], Math.abs(samples[i]));
		}
		return list;
	});
	/** The outline of the loudness over what is seen, a step a pixel or two. */
	const path = $derived.by(() => {
		if (!buffer || peaks.length === 0) return '';
		const points: string[] = [];
		const low: string[] = [];
		for (let x = 0; x <= view.width; x += 2) {
			const from = ticksToSeconds(view.ticksAt(x) - sound.begins) * PEAKS;
			const to = Math.max(from + 1, ticksToSeconds(view.ticksAt(x + 2) - sound.begins) * PEAKS);
			let loud = 0;
			for (let i = Math.max(0, Math.floor(from)); i < Math.min(peaks.length, to); i++)
				loud = Math.max(loud, peaks[i]);
			const half = (loud * HEIGHT) / 2;
			points.push(`${x} ${(HEIGHT / 2 - half).toFixed(1)}`);
			low.push(`${x} ${(HEIGHT / 2 + half).toFixed(1)}`);
		}
		return `M${points.join('L')}L${low.reverse().join('L')}Z`;
	});

	function stop() {
		source?.stop();
		source = null;
		sounding = false;
	}
	function start() {
		if (!context || !buffer) return;
		const offset = ticksToSeconds(transport.local - sound.begins);
		if (offset >= buffer.duration) return;
		void context.resume();
		source = context.createBufferSource();
		source.buffer = buffer;
		source.playbackRate.value = transport.speed;
		const gain = context.createGain();
		gain.gain.value = sound.gain;
		source.connect(gain).connect(context.destination);
		const wait = Math.max(0, -offset) / transport.speed;
		source.start(context.currentTime + wait, Math.max(0, offset));
		started = { ticks: transport.local, at: context.currentTime };
		sounding = true;
	}
	/** Seconds that sound and picture may be apart before the sound is taken up anew: a round, a jump, another speed. */
	const DRIFT = 0.1;
	$effect(() => {
		const { playing, local, speed } = transport;
		void sound;
		if (!playing || !buffer) {
			if (source) stop();
			return;
		}
		const heard = started.ticks + secondsToTicks(((context?.currentTime ?? 0) - started.at) * speed);
		const apart = Math.abs(ticksToSeconds(local - heard));
		if (source && apart < DRIFT && source.playbackRate.value === speed) return;
		if (source) stop();
		start();
	});
	onDestroy(() => {
		stop();
		void context?.close();
	});
</script>

<svg
	class="pointer-events-none absolute bottom-[22px] left-0 w-full"
	style:height="{HEIGHT}px"
	aria-label="waveform of {sound.name}"
	role="img"
	data-sound={failed ? 'failed' : sounding ? 'heard' : buffer ? 'ready' : 'loading'}
>
	<path d={path} fill="var(--heather)" opacity="0.35" />
	{#if failed}<text x="6" y="20" font-size="11" fill="var(--rust)">The sound "{sound.name}" is not here</text
		>{/if}
</svg>

<script lang="ts">
	import type { Recorder } from '$lib/acts/recorder.svelte';
	import type { DevicePlace } from '$lib/acts/recorder-settings.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import { cancelFrame, nextTick } from '$lib/ui/frames';
	import { PadWatch } from '$lib/ui/gamepad';
	import Knob from '$lib/ui/Knob.svelte';
	import Stick from '$lib/ui/Stick.svelte';

	/** The device that drives a recording: on the screen, or listened to while it records. */
	let { recorder }: { recorder: Recorder } = $props();
	const session = useSession();
	const { device } = $derived(recorder);

	/** How fast arrow keys go to full way, in ways a second. */
	const KEY_PACE = 2.5;
	const SLIDER_STEPS = 1000;
	let slider = $state(0);
	let knob = $state(0);
	let padName = $state('');
	let level = $state(0);
	let failed = $state('');

	function released(time: number) {
		if (recorder.onlyHeld) recorder.feed(time, null);
	}

	/** Arrow keys: while one is down the place goes its way, and stays where it was left. */
	const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
		ArrowLeft: [-1, 0],
		ArrowRight: [1, 0],
		ArrowUp: [0, 1],
		ArrowDown: [0, -1],
	};
	const down = new Set<string>();
	let place: DevicePlace = { across: 0, up: 0 };
	let movedAt = 0;
	function goOn(time: number) {
		const seconds = Math.max(0, time - movedAt) / 1000;
		movedAt = time;
		const way = [...down].reduce(([x, y], key) => [x + ARROWS[key][0], y + ARROWS[key][1]], [0, 0]);
		const within = (v: number) => Math.max(-1, Math.min(1, v));
		place = {
			across: within(place.across + way[0] * KEY_PACE * seconds),
			up: within(place.up + way[1] * KEY_PACE * seconds),
		};
		if (down.size > 0) recorder.feed(time, place);
	}
	function onkey(event: KeyboardEvent, isDown: boolean) {
		if (device !== 'keys' || !recorder.isOn || !ARROWS[event.key]) return;
		event.preventDefault();
		event.stopPropagation();
		if (event.repeat) return;
		goOn(event.timeStamp);
		recorder.feed(event.timeStamp, place);
		if (isDown) down.add(event.key);
		else down.delete(event.key);
	}

	/** The level of the microphone, smoothed; asked once a frame. */
	const LEVEL_GAIN = 4;
	const FALL = 0.8;
	async function listen(): Promise<() => void> {
		const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
		const context = new AudioContext();
		const analyser = context.createAnalyser();
		context.createMediaStreamSource(stream).connect(analyser);
		const wave = new Float32Array(analyser.fftSize);
		const look = (time: number) => {
			analyser.getFloatTimeDomainData(wave);
			const loud = Math.min(1, LEVEL_GAIN * Math.sqrt(wave.reduce((sum, v) => sum + v * v, 0) / wave.length));
			level = Math.max(loud, FALL * level);
			recorder.feed(time, { across: level, up: 0 });
			nextTick(look);
		};
		nextTick(look);
		return () => {
			cancelFrame(look);
			for (const track of stream.getTracks()) track.stop();
			void context.close();
		};
	}
	$effect(() => {
		if (device !== 'microphone') return;
		let isGone = false;
		let stop = () => {};
		failed = '';
		listen().then(
			(own) => (isGone ? own() : (stop = own)),
			() => (failed = 'The browser gives no microphone: allow it for this page, or choose another device.'),
		);
		return () => {
			isGone = true;
			stop();
			level = 0;
		};
	});

	$effect(() => {
		if (device !== 'pad') return;
		const watch = new PadWatch();
		const look = () => {
			const pad = navigator.getGamepads?.().find((own) => own !== null);
			padName = pad?.id ?? '';
			const stick = pad && watch.look(pad).stick;
			// The time that the pad was read, not that of the frame.
			if (stick) recorder.feed(pad.timestamp || performance.now(), { across: stick.x, up: stick.y });
			nextTick(look);
		};
		nextTick(look);
		return () => cancelFrame(look);
	});

	$effect(() => {
		// Keys begin in the middle each time.
		if (recorder.phase !== 'counting') return;
		down.clear();
		place = { across: 0, up: 0 };
		slider = 0;
		knob = 0;
	});
	$effect(() => {
		if (device !== 'keys' || recorder.phase !== 'recording') return;
		movedAt = performance.now();
		recorder.poll = goOn;
		return () => (recorder.poll = null);
	});
</script>

<svelte:window
	onkeydowncapture={(event) => onkey(event, true)}
	onkeyupcapture={(event) => onkey(event, false)}
/>

{#if device === 'pointer'}
	<p class="text-muted">
		{recorder.onlyHeld ? 'Press on the stage and drag' : 'Move the pointer over the stage'}: the part {recorder.isAlongPath
			? 'goes along its path, to where the pointer is nearest to it'
			: 'follows from where it is'}.
	</p>
{:else if device === 'stick'}
	<div class="flex items-center gap-3">
		<Stick
			size={104}
			onmove={(x, y, time) => recorder.feed(time, { across: x, up: y })}
			onrelease={released}
		/>
		<p class="text-muted">Drag the stick; arrow keys move it while it is in hand.</p>
	</div>
{:else if device === 'slider'}
	<label class="flex items-center gap-2">
		<span class="text-muted">Drag it</span>
		<input
			type="range"
			class="flex-1 accent-[var(--lake)]"
			aria-label="recorded slider"
			min={-SLIDER_STEPS}
			max={SLIDER_STEPS}
			bind:value={slider}
			oninput={(event) => recorder.feed(event.timeStamp, { across: slider / SLIDER_STEPS, up: 0 })}
			onpointerup={(event) => released(event.timeStamp)}
		/>
	</label>
{:else if device === 'knob'}
	<div class="flex items-center gap-3">
		<Knob
			size={84}
			label="recorded knob"
			bind:value={knob}
			onturn={(value, time) => recorder.feed(time, { across: value, up: 0 })}
			onrelease={released}
		/>
		<p class="text-muted">Turn it about its middle; arrow keys turn it while it is in hand.</p>
	</div>
{:else if device === 'keys'}
	<p class="text-muted">
		Hold the arrow keys while it records: the part goes that way, and stays where you leave it.
	</p>
{:else if device === 'sound'}
	<p class="text-muted">
		{session.clip?.sound
			? `How loud ${session.clip.sound.name} is drives it, from rest to full way: it is read at once.`
			: 'The clip has no sound yet: put one in on its card, or drop it on the stage.'}
	</p>
{:else if device === 'pad'}
	<p class="text-muted">{padName || 'No gamepad yet: plug one in and press one of its buttons.'}</p>
{:else}
	{#if failed}<p class="text-rust" role="alert">{failed}</p>{:else}
		<div class="flex items-center gap-2">
			<span class="text-muted">Level</span>
			<meter class="h-3 flex-1" min="0" max="1" value={level} aria-label="microphone level"></meter>
		</div>
	{/if}
{/if}

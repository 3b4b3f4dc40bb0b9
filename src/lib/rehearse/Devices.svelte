<script lang="ts">
	import { keyWord } from '$core/document/trigger-words';
	import { onMount } from 'svelte';
	import { useSession } from '$lib/session/session.svelte';
	import { cancelFrame, nextTick } from '$lib/ui/frames';
	import { PACES, type Pace } from './frame-pace';
	import { PadWatch } from '$lib/ui/gamepad';
	import { inputsOf, STICK } from './inputs';
	import type { Trial } from './trial.svelte';
	import Stick from '$lib/ui/Stick.svelte';

	/** What a player of the game has in hand: buttons, keys, a pad, a stick, sliders; and the machine that it runs on. */
	let { trial }: { trial: Trial } = $props();
	const session = useSession();
	const inputs = $derived(inputsOf(session.doc));
	const buttons = $derived([...new Set([0, 1, 2, 3, ...inputs.buttons])].sort((a, b) => a - b));
	const SPEEDS = [0.1, 0.25, 0.5, 1, 2];

	let padName = $state('');
	function moveStick(x: number, y: number) {
		trial.set(STICK[0], x);
		trial.set(STICK[1], y);
	}
	onMount(() => {
		const watch = new PadWatch();
		const look = () => {
			const pad = navigator.getGamepads?.().find((own) => own !== null);
			padName = pad?.id ?? '';
			if (pad) {
				const { pressed, stick } = watch.look(pad);
				for (const button of pressed) trial.send({ kind: 'button', button });
				if (stick) moveStick(stick.x, stick.y);
			}
			nextTick(look);
		};
		// Pads tell nothing before one of their buttons was pressed.
		const start = () => nextTick(look);
		window.addEventListener('gamepadconnected', start);
		return () => {
			window.removeEventListener('gamepadconnected', start);
			cancelFrame(look);
		};
	});
	const row = 'flex flex-wrap gap-1';
</script>

<aside
	class="flex min-h-0 gap-3 border-rule bg-paper p-2 text-sm max-md:flex-wrap max-md:border-t md:flex-col md:overflow-y-auto md:border-r"
	aria-label="devices"
>
	<section class="flex flex-col gap-1" aria-label="code">
		<h2 class="sheet-title">Called by code</h2>
		<div class={row}>
			{#each inputs.calls as name (name)}
				<button type="button" class="btn" onclick={() => trial.send({ kind: 'call', name })}>{name}</button>
			{:else}
				<p class="text-xs text-muted">No trigger is called by code yet.</p>
			{/each}
		</div>
	</section>
	<section class="flex flex-col gap-1" aria-label="clips">
		<h2 class="sheet-title">Play a clip</h2>
		<select
			class="field"
			aria-label="play a clip"
			value=""
			disabled={!trial.made || trial.recorded !== null}
			title={trial.recorded
				? 'A rehearsal records what a person does: call a trigger instead'
				: 'As code would, over what plays'}
			onchange={(event) => {
				if (event.currentTarget.value) trial.play(event.currentTarget.value);
				event.currentTarget.value = '';
			}}
		>
			<option value="">Choose …</option>
			{#each trial.made?.set.clips.keys() ?? [] as name (name)}<option value={name}>{name}</option>{/each}
		</select>
	</section>
	<section class="flex flex-col gap-1" aria-label="keys">
		<h2 class="sheet-title">Keys</h2>
		<div class={row}>
			{#each inputs.keys as key (key)}
				<button type="button" class="btn font-mono" onclick={() => trial.send({ kind: 'key', key })}
					>{keyWord(key)}</button
				>
			{:else}
				<p class="text-xs text-muted">Press any key: it is sent as it is.</p>
			{/each}
		</div>
	</section>
	<section class="flex flex-col gap-1" aria-label="pad">
		<h2 class="sheet-title">Pad</h2>
		<div class="self-center"><Stick onmove={moveStick} /></div>
		<div class="{row} justify-center">
			{#each buttons as button (button)}
				<button
					type="button"
					class="btn btn-square {inputs.buttons.includes(button) ? '' : 'text-muted'}"
					aria-label="pad button {button + 1}"
					onclick={() => trial.send({ kind: 'button', button })}>{button + 1}</button
				>
			{/each}
		</div>
		{#if padName}<p class="truncate text-xs text-muted" title={padName}>Connected: {padName}</p>{/if}
	</section>
	{#if inputs.parameters.length > 0}
		<section class="flex flex-col gap-1" aria-label="parameters">
			<h2 class="sheet-title">Parameters</h2>
			{#each inputs.parameters as name (name)}
				<label class="flex flex-col">
					<span class="flex justify-between"
						><span>{name}</span><span class="font-mono text-xs text-muted"
							>{(trial.values[name] ?? 0).toFixed(2)}</span
						></span
					>
					<input
						type="range"
						min={inputs.ranges.get(name)![0]}
						max={inputs.ranges.get(name)![1]}
						step="0.01"
						class="h-[24px] accent-lake"
						aria-label={name}
						value={trial.values[name] ?? 0}
						oninput={(event) => trial.set(name, Number(event.currentTarget.value))}
					/>
				</label>
			{/each}
		</section>
	{/if}
	<section class="flex flex-col gap-1 md:mt-auto" aria-label="machine">
		<h2 class="sheet-title">Machine</h2>
		<label class="flex flex-col gap-0.5"
			><span class="text-muted">Frames</span>
			<select class="field" aria-label="frames of the machine" bind:value={trial.pace}>
				{#each Object.entries(PACES) as [pace, word] (pace)}<option value={pace as Pace}>{word}</option
					>{/each}
			</select></label
		>
		<label class="flex flex-col gap-0.5"
			><span class="text-muted">Speed</span>
			<select
				class="field"
				aria-label="speed"
				value={trial.speed}
				onchange={(event) => (trial.speed = Number(event.currentTarget.value))}
			>
				{#each SPEEDS as speed (speed)}<option value={speed}>{speed * 100} %</option>{/each}
			</select></label
		>
	</section>
</aside>

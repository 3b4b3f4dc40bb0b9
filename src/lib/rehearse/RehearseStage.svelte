<script lang="ts">
	import { compileClip } from '$core/clip/compile';
	import { clipsNamed } from '$core/document/triggers';
	import PoseStage from '$lib/stage/PoseStage.svelte';
	import type { StageScene } from '$lib/stage/scene';
	import { useSession } from '$lib/session/session.svelte';
	import type { Trial } from './trial.svelte';

	/** The parts as the player has them. A tap on one is a tap in the game. */
	let { trial, theme }: { trial: Trial; theme: string } = $props();
	const session = useSession();

	let scene = $state.raw<StageScene | null>(null);
	/** The part that is pointed at, by its name in the file. */
	let pointed = $state<string | null>(null);

	/** The clips that triggers play, by themselves or mixed; without any, all. */
	function playedClips() {
		const { clips } = session.project;
		const { triggers, mixes } = session.doc;
		const named = Object.values(triggers).flatMap(clipsNamed);
		const played = new Set(named.flatMap((id) => mixes[id]?.stops.map(({ clip }) => clip) ?? [id]));
		return played.size > 0 ? clips.filter(({ id }) => played.has(id)) : clips;
	}
	/** The name in the file of the part under a pointer. */
	function partAt(event: MouseEvent): string | null {
		if (!scene || !trial.made) return null;
		const { x, y } = scene.placeOf(event);
		return trial.made.names.parts.get(scene.pick(x, y, () => true) ?? '') ?? null;
	}

	let press: { x: number; y: number } | null = null;
	function tap(event: MouseEvent) {
		if (!press || Math.hypot(event.clientX - press.x, event.clientY - press.y) > 6) return;
		const part = partAt(event);
		if (part !== null) trial.send({ kind: 'tap', part });
	}
	function point(part: string | null) {
		if (part === pointed) return;
		if (pointed !== null && trial.isBound('leave', pointed)) trial.send({ kind: 'leave', part: pointed });
		pointed = part;
		if (part !== null && trial.isBound('enter', part)) trial.send({ kind: 'enter', part });
	}
	const isTappable = $derived(pointed !== null && trial.isBound('tap', pointed));
</script>

<PoseStage
	bind:scene
	doc={session.doc}
	posed={trial.posed}
	clips={() => playedClips().map((clip) => compileClip(session.doc, clip))}
	{theme}
	label="stage"
	without="Triggers, charts and the log work all the same."
	canvasProps={{
		class: isTappable ? 'cursor-pointer' : '',
		onpointerdowncapture: (event) => (press = { x: event.clientX, y: event.clientY }),
		onpointermove: (event) => point(partAt(event)),
		onpointerleave: () => point(null),
		onclick: tap,
	}}
>
	{#if pointed !== null}
		<p
			class="pointer-events-none absolute bottom-2 left-2 rounded bg-paper/85 px-2 py-0.5 text-xs"
			data-pointed
		>
			{pointed}{isTappable ? ' · tap' : ''}
		</p>
	{/if}
</PoseStage>

<script lang="ts">
	import { untrack } from 'svelte';
	import type { Reference } from '$core/document/types';
	import { ticksToSeconds } from '$player/time';
	import { addresses } from '$lib/api/client';
	import { useSession } from '$lib/session/session.svelte';
	import type { StageScene } from './scene';

	interface Props {
		scene: StageScene;
		/** Counts pictures: the reference lies behind the last one. */
		picture: number;
		reference: Reference;
	}
	/** A picture or a film behind the parts; a film stands where the playhead is, and runs while it plays. */
	let { scene, picture, reference }: Props = $props();
	const session = useSession();
	const { transport } = session;
	let ratio = $state(0);
	let film = $state<HTMLVideoElement>();
	let source = $state<string | null>(null);
	let failed = $state(false);

	const place = $derived.by(() => {
		void picture;
		const { x, y, width } = reference;
		const left = scene.projectWorld(x - width / 2, y, 0);
		const right = scene.projectWorld(x + width / 2, y, 0);
		return { x: (left.x + right.x) / 2, y: (left.y + right.y) / 2, width: Math.abs(right.x - left.x) };
	});

	// A film is fetched whole, so that every frame of it can be gone to.
	$effect(() => {
		const path = addresses.asset(session.project.id, reference.asset);
		failed = false;
		ratio = 0;
		if (reference.kind === 'picture') {
			source = path;
			return;
		}
		let url: string | null = null;
		let gone = false;
		source = null;
		void fetch(path).then(async (response) => {
			if (!response.ok) {
				failed = true;
				return;
			}
			const blob = await response.blob();
			if (gone) return;
			source = url = URL.createObjectURL(blob);
		});
		return () => {
			gone = true;
			if (url) URL.revokeObjectURL(url);
		};
	});

	/** Seconds that a running film may be off before it is set right. */
	const DRIFT = 0.12;
	const wanted = $derived(Math.max(0, ticksToSeconds(transport.local - reference.begins) * reference.rate));
	$effect(() => {
		if (!film || ratio === 0) return;
		const running = transport.playing && transport.local >= reference.begins;
		if (running) {
			film.playbackRate = Math.min(16, Math.max(0.0625, reference.rate * transport.speed));
			if (film.paused) void film.play().catch(() => undefined);
			if (Math.abs(film.currentTime - wanted) > DRIFT) film.currentTime = wanted;
		} else {
			film.pause();
			if (Math.abs(film.currentTime - wanted) > 0.001) film.currentTime = wanted;
		}
	});
	$effect(() => untrack(() => () => film?.pause()));
</script>

{#if failed}
	<p class="absolute bottom-9 left-2 rounded-md border border-rule bg-sheet px-2 py-0.5 text-xs text-rust">
		The reference "{reference.name}" is not here: put it in again on the clip card.
	</p>
{:else if source}
	{@const style = `left:${place.x}px;top:${place.y}px;width:${place.width}px;opacity:${reference.opacity}`}
	{#if reference.kind === 'picture'}
		<img
			class="pointer-events-none absolute max-w-none -translate-x-1/2 -translate-y-1/2"
			{style}
			src={source}
			alt="reference {reference.name}"
			data-reference
			onerror={() => (failed = true)}
		/>
	{:else}
		<video
			bind:this={film}
			class="pointer-events-none absolute max-w-none -translate-x-1/2 -translate-y-1/2"
			{style}
			src={source}
			muted
			playsinline
			preload="auto"
			aria-label="reference {reference.name}"
			data-reference
			onloadedmetadata={(event) => (ratio = event.currentTarget.videoWidth / event.currentTarget.videoHeight)}
			onerror={() => (failed = true)}
		></video>
	{/if}
{/if}

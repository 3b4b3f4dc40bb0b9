<script>
	import { Player } from 'hillock-player';
	import { bindToElements } from 'hillock-player/dom';
	import { onMount } from 'svelte';

	/** What `readClips` gave, the clip to play, what is told of its cues, and the elements that move. */
	let { set, clip, oncue = () => {}, children } = $props();
	let root;
	let player;

	onMount(() => {
		player = new Player(set, { oncue: ({ cue }) => oncue(cue) });
		const show = bindToElements(set, root);
		let last = performance.now();
		let frame = requestAnimationFrame(function step(now) {
			player.advance(Math.max(0, now - last) / 1000);
			last = now;
			show(player.pose);
			frame = requestAnimationFrame(step);
		});
		player.play({ clip });
		return () => cancelAnimationFrame(frame);
	});
	$effect(() => {
		player?.play({ clip });
	});
</script>

<div bind:this={root}>{@render children()}</div>

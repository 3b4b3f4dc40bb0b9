<script lang="ts">
	import { untrack } from 'svelte';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';

	/** Tells a screen reader what was done: edits by their names, auto-key, playing, and files that were written. */
	const session = useSession();
	const { project, transport } = session;
	let told = $state('');
	/** The same word twice is told twice: a reader hears changes only. */
	let odd = false;
	function say(text: string) {
		odd = !odd;
		told = odd ? text : `${text}\u00a0`;
	}

	/** Follows what changes, but not what is there at first. */
	function onChange<T>(read: () => T, tell: (now: T) => void) {
		let isFirst = true;
		$effect(() => {
			const now = read();
			if (isFirst) isFirst = false;
			else untrack(() => tell(now));
		});
	}
	onChange(
		() => project.done,
		(done) => done && say(done.label),
	);
	onChange(
		() => session.isAutoKey,
		(on) => say(on ? 'Auto-key on' : 'Auto-key off'),
	);
	onChange(
		() => transport.playing || session.across.blend !== null,
		(playing) =>
			say(
				playing
					? 'Playing'
					: `Paused at frame ${writeNumber(ticksToFrame(transport.local, session.frameRate), 1)}`,
			),
	);
	onChange(
		() => session.exported,
		() => say('The file is written and read back'),
	);
</script>

<p class="sr-only" role="status" data-told>{told}</p>

<script lang="ts">
	import BounceDialog from '$lib/bench/BounceDialog.svelte';
	import NudgeDialog from '$lib/bench/NudgeDialog.svelte';
	import TimeDialog from '$lib/bench/TimeDialog.svelte';
	import TweenDialog from '$lib/bench/TweenDialog.svelte';
	import type { Command } from '$lib/ui/command';
	import type { SheetName } from '$lib/session/asks.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import NewPartMenu from '$lib/stage/NewPartMenu.svelte';
	import Finder from '$lib/bar/Finder.svelte';
	import HelpDialog from './HelpDialog.svelte';
	import VersionsDialog from './VersionsDialog.svelte';

	interface Props {
		commands: readonly Command[];
		/** With the shortcuts that they came with. */
		made: readonly Command[];
		onclip: (id: string) => void;
	}
	/** All that can lie over Compose: fetched apart, since nothing of it is needed to see a clip. */
	let { commands, made, onclip }: Props = $props();
	const session = useSession();

	/** Whether a sheet is open, and what opens or closes it. */
	const shows = (name: SheetName) => () => session.asks.sheet === name;
	const showing = (name: SheetName) => (open: boolean) => {
		if (open) session.asks.sheet = name;
		else if (session.asks.sheet === name) session.asks.sheet = null;
	};
</script>

<NewPartMenu bind:open={shows('new part'), showing('new part')} />
<TweenDialog bind:open={shows('tween'), showing('tween')} />
<TimeDialog bind:open={shows('time'), showing('time')} />
<NudgeDialog bind:open={shows('nudge'), showing('nudge')} />
<VersionsDialog bind:open={shows('versions'), showing('versions')} />
{#if session.selection.part}
	<BounceDialog bind:open={shows('bounce'), showing('bounce')} part={session.selection.part} />
{/if}
<HelpDialog bind:open={shows('help'), showing('help')} commands={made} />
<Finder bind:open={shows('finder'), showing('finder')} {commands} {onclip} />

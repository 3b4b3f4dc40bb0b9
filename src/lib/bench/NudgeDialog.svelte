<script lang="ts">
	import { limitMove, moveKeys, shiftSelection } from '$core/edits/keys';
	import { frameToTicks } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import Sheet from '$lib/ui/Sheet.svelte';

	/** Moves the selected keys by typed amounts of time and value. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	let frames = $state(0);
	let value = $state(0);

	$effect(() => {
		if (open) frames = value = 0;
	});
	function move() {
		const { keys } = session.selection;
		const { clip } = session;
		if (!clip || session.selection.count === 0) return;
		const ticks = limitMove(keys, frameToTicks(frames, session.frameRate), clip.length);
		session.edit('Move keys', (doc) => ({
			doc: moveKeys(doc, keys, ticks, value),
			keys: shiftSelection(keys, ticks),
		}));
		open = false;
	}
</script>

<Sheet
	bind:open
	title="Move keys by an amount"
	about={session.selection.count === 0
		? 'Select keys first.'
		: session.selection.count === 1
			? 'One key.'
			: `${session.selection.count} keys.`}
	width="w-[320px]"
>
	<div class="mt-3 flex flex-col gap-2">
		<label class="flex items-center justify-between gap-2">
			<span class="text-muted">in time</span>
			<FrameField label="move by frames" value={frames} class="w-[90px]" oncommit={(v) => (frames = v)} />
		</label>
		<label class="flex items-center justify-between gap-2">
			<span class="text-muted">in value</span>
			<NumberField label="move by value" {value} step={0.05} class="w-[90px]" oncommit={(v) => (value = v)} />
		</label>
	</div>
	{#snippet actions()}
		<button type="button" class="btn btn-main" disabled={session.selection.count === 0} onclick={move}
			>Move</button
		>
	{/snippet}
</Sheet>

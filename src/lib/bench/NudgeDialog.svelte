<script lang="ts">
	import { frameToTicks } from '$core/time';
	import { clipGrows, moveSelected, setClipGrows } from '$lib/acts/move-keys';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import Sheet from '$lib/ui/Sheet.svelte';

	/** Moves the selected keys by typed amounts of time and value. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	let frames = $state(0);
	let value = $state(0);

	let grows = $state(true);

	$effect(() => {
		if (!open) return;
		frames = value = 0;
		grows = clipGrows();
	});
	function move() {
		if (moveSelected(session, frameToTicks(frames, session.frameRate), value)) open = false;
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
			<span class="text-muted">In time</span>
			<FrameField label="move by frames" value={frames} class="w-[90px]" oncommit={(v) => (frames = v)} />
		</label>
		<label class="flex items-center justify-between gap-2">
			<span class="text-muted">In value</span>
			<NumberField label="move by value" {value} step={0.05} class="w-[90px]" oncommit={(v) => (value = v)} />
		</label>
		<label class="flex items-center gap-2">
			<input
				type="checkbox"
				checked={grows}
				onchange={(event) => setClipGrows((grows = event.currentTarget.checked))}
			/>
			Lengthen the clip when keys pass its end
		</label>
		<label class="flex items-center gap-2">
			<input
				type="checkbox"
				checked={session.view.cuesToo}
				onchange={(event) => session.view.setCuesToo(event.currentTarget.checked)}
			/>
			Cues too, where all keys of a part are moved
		</label>
	</div>
	{#snippet actions()}
		<button type="button" class="btn btn-main" disabled={session.selection.count === 0} onclick={move}
			>Move</button
		>
	{/snippet}
</Sheet>

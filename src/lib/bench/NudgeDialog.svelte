<script lang="ts">
	import { Dialog } from 'bits-ui';
	import { limitMove, moveKeys, shiftSelection } from '$core/document/edits/keys';
	import { frameToTicks } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';

	/** Moves the picked keys by typed amounts of time and value. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	let frames = $state(0);
	let value = $state(0);
	const count = $derived([...session.keys.values()].reduce((sum, times) => sum + times.size, 0));

	$effect(() => {
		if (open) frames = value = 0;
	});
	function move() {
		const { keys, clip } = session;
		if (!clip || count === 0) return;
		const ticks = limitMove(keys, frameToTicks(frames, session.frameRate), clip.length);
		session.edit('Move keys', (doc) => moveKeys(doc, keys, ticks, value));
		session.keys = shiftSelection(keys, ticks);
		open = false;
	}
</script>

<Dialog.Root bind:open>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
		<Dialog.Content
			class="fixed left-1/2 top-1/2 z-50 w-[320px] -translate-x-1/2 -translate-y-1/2 rounded-xl border border-rule bg-paper p-5"
		>
			<Dialog.Title class="text-base font-bold">Move keys by an amount</Dialog.Title>
			<Dialog.Description class="text-muted"
				>{count === 0 ? 'Pick keys first.' : count === 1 ? 'One key.' : `${count} keys.`}</Dialog.Description
			>
			<div class="mt-3 flex flex-col gap-2">
				<label class="flex items-center justify-between gap-2">
					<span class="text-muted">in time</span>
					<NumberField
						label="move by frames"
						value={frames}
						unit=" f"
						class="w-[90px]"
						oncommit={(v) => (frames = v)}
					/>
				</label>
				<label class="flex items-center justify-between gap-2">
					<span class="text-muted">in value</span>
					<NumberField
						label="move by value"
						{value}
						step={0.05}
						class="w-[90px]"
						oncommit={(v) => (value = v)}
					/>
				</label>
			</div>
			<div class="mt-4 flex justify-end gap-2">
				<Dialog.Close class="btn">Cancel</Dialog.Close>
				<button type="button" class="btn btn-main" disabled={count === 0} onclick={move}>Move</button>
			</div>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>

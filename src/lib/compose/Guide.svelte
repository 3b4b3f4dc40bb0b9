<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import { untrack } from 'svelte';
	import { keep } from '$lib/ui/kept';
	import { useSession } from '$lib/session/session.svelte';

	/** A first clip in five steps: each is ticked off when it has been done. Can be skipped, and called back. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	let step = $state(0);
	/** The channels as the step in hand began. */
	let before = session.doc.channels;

	const STEPS = [
		{
			say: 'Select a part: click it on the stage, or its name in the lanes.',
			done: () => session.selection.partId !== null,
		},
		{ say: 'Go to another frame: drag on the ruler.', done: () => session.transport.local > 0 },
		{
			say: 'Turn on Auto-key, and move the part by its handles: that sets keys.',
			done: () => session.isAutoKey && !session.project.isDragging && session.doc.channels !== before,
		},
		{
			say: 'Select a key and choose its easing, or drag its line up or down.',
			done: () => !session.project.isDragging && isReshaped(session.doc.channels),
		},
		{ say: 'Play it: Space, or the round button.', done: () => session.transport.playing },
	];

	/** Whether a key of before has another shape now. */
	function isReshaped(channels: typeof before): boolean {
		return Object.values(channels).some(({ id, keys }) =>
			before[id]?.keys.some((key) => keys.some(({ t, shape }) => t === key.t && shape !== key.shape)),
		);
	}
	$effect(() => {
		if (!open || step >= STEPS.length || !STEPS[step].done()) return;
		step++;
		before = session.doc.channels;
	});
	$effect(() => {
		if (!open) return;
		step = 0;
		before = untrack(() => session.doc.channels);
	});
	function close() {
		open = false;
		keep('guide', 'done');
	}
</script>

{#if open}
	<aside
		class="fixed bottom-10 left-[252px] z-30 w-[380px] rounded-xl border border-moss bg-sheet p-3 shadow-lg"
		aria-label="a first clip"
	>
		<h2 class="sheet-title flex items-center gap-1.5">
			<span class="flex-1">A first clip, in five steps</span>
			{#each STEPS as { say }, i (say)}
				<span
					class="flex size-4 items-center justify-center rounded-full border text-[10px] {i < step
						? 'border-moss bg-moss text-moss-ink'
						: i === step
							? 'border-moss'
							: 'border-rule text-muted'}"
					aria-hidden="true"
					>{#if i < step}<Check size={11} />{:else}{i + 1}{/if}</span
				>
			{/each}
		</h2>
		{#if step >= STEPS.length}
			<p class="mt-2 flex items-center gap-2">
				<span class="flex-1">That is all it takes. Everything can be undone.</span>
				<button type="button" class="btn btn-main" onclick={close}>Done</button>
			</p>
		{:else}
			<!-- One step at a time: little of the lanes is covered. -->
			<p class="mt-2" aria-current="step" aria-live="polite">
				<span class="sr-only">step {step + 1} of {STEPS.length}:</span>
				{STEPS[step].say}
			</p>
			<p class="mt-2 flex items-center gap-2">
				<span class="flex-1 text-muted">Ctrl+K finds it again.</span>
				<button type="button" class="btn" onclick={() => step++}>Skip this step</button>
				<button type="button" class="btn" onclick={close}>Close</button>
			</p>
		{/if}
	</aside>
{/if}

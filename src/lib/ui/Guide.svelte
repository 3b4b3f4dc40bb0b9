<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import { channelsOfClip } from '$core/document/types';
	import { useSession } from '$lib/session/session.svelte';

	/** A first clip in five steps: each is ticked off when it has been done. Can be skipped, and called back. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	const STORE = 'hillock-guide';
	let step = $state(0);
	let keysBefore = 0;

	const keyCount = $derived(
		session.clip
			? channelsOfClip(session.doc, session.clip.id).reduce((sum, channel) => sum + channel.keys.length, 0)
			: 0,
	);
	const STEPS = [
		{
			say: 'Pick a part: click it on the stage, or its name in the lanes.',
			done: () => session.partId !== null,
		},
		{ say: 'Go to another frame: drag on the ruler.', done: () => session.transport.local > 0 },
		{
			say: 'Turn on auto-key, and move the part by its handles: that sets keys.',
			done: () => session.autoKey && keyCount > keysBefore,
		},
		{
			say: 'Pick a key and choose how its span goes on: a shape on the bench, or drag its line up or down.',
			done: () => /shape|bend/i.test(session.saver.undo ?? ''),
		},
		{ say: 'Play it: Space, or the round button.', done: () => session.transport.playing },
	];

	$effect(() => {
		if (!open || step >= STEPS.length || !STEPS[step].done()) return;
		step++;
		keysBefore = keyCount;
	});
	$effect(() => {
		if (open) {
			step = 0;
			keysBefore = keyCount;
		}
	});
	function close() {
		open = false;
		try {
			localStorage.setItem(STORE, 'done');
		} catch {
			// It will offer itself again next time.
		}
	}
</script>

{#if open}
	<aside
		class="fixed bottom-10 left-[252px] z-30 w-[380px] rounded-xl border border-moss bg-sheet p-4 shadow-lg"
		aria-label="a first clip"
	>
		<h2 class="sheet-title">A first clip, in five steps</h2>
		<ol class="mt-2 flex flex-col gap-1.5">
			{#each STEPS as { say }, i (say)}
				<li
					class="flex gap-2 {i === step ? 'font-semibold' : 'text-muted'}"
					aria-current={i === step ? 'step' : undefined}
				>
					<span class="flex w-5 shrink-0 justify-center font-mono">
						{#if i < step}<Check size={15} aria-label="done" />{:else}{i + 1}{/if}
					</span>
					<span class={i < step ? 'line-through' : ''}>{say}</span>
				</li>
			{/each}
		</ol>
		<p class="mt-3 flex items-center gap-2">
			{#if step >= STEPS.length}
				<span class="flex-1">That is all it takes. Everything can be undone.</span>
				<button type="button" class="btn btn-main" onclick={close}>Done</button>
			{:else}
				<span class="flex-1 text-muted">Ctrl+K finds it again.</span>
				<button type="button" class="btn" onclick={() => step++}>Skip this step</button>
				<button type="button" class="btn" onclick={close}>Close</button>
			{/if}
		</p>
	</aside>
{/if}

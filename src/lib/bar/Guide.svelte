<script lang="ts">
	import Check from '@lucide/svelte/icons/check';
	import { onMount, untrack } from 'svelte';
	import { keep } from '$lib/ui/kept';
	import { useSession } from '$lib/session/session.svelte';
	import { guideSteps, placeBeside } from './guide-steps';

	/** A first clip in six steps, beside what each speaks of: each is ticked off when it has been done. */
	const session = useSession();
	const { asks } = session;
	/** As it was when the guide began: adding a part is what makes one there. */
	const steps = untrack(() => guideSteps(session));
	let step = $state(0);
	/** The lane that has come last. */
	let lane = '[data-channel]';
	/** The channels as the step in hand began. */
	let before = untrack(() => session.doc.channels);
	const now = $derived(steps[step]);

	$effect(() => {
		if (now?.done(session, before)) untrack(next);
	});
	function next() {
		const made = Object.values(session.doc.channels).find(({ id }) => !before[id]);
		before = session.doc.channels;
		step++;
		// The lane that has come is what is spoken of next.
		if (made) {
			lane = `[data-channel="${made.id}"]`;
			requestAnimationFrame(() => document.querySelector(lane)?.scrollIntoView({ block: 'nearest' }));
		}
		if (step === steps.length - 1) session.isAutoKey = false;
	}
	function close() {
		asks.guide = false;
		keep('guide', 'done');
	}

	let box: HTMLElement;
	let at = $state({ left: 8, top: 8 });
	/** What it speaks of moves with lanes that are scrolled, panes that are dragged and parts that play. */
	const FOLLOW_MS = 250;
	function follow() {
		if (!box) return;
		const near = now?.near.map((selector) => (selector === '[data-channel]' ? lane : selector));
		const found = near?.map((selector) => document.querySelector(selector)).find(Boolean);
		const size = { width: box.offsetWidth, height: box.offsetHeight };
		const screen = { width: innerWidth, height: innerHeight };
		const target = found?.getBoundingClientRect() ?? { left: 0, top: innerHeight - 40, width: 0, height: 0 };
		const { left, top } = placeBeside(target, size, screen);
		if (left !== at.left || top !== at.top) at = { left, top };
	}
	$effect(() => {
		void now;
		requestAnimationFrame(follow);
	});
	onMount(() => {
		const timer = setInterval(follow, FOLLOW_MS);
		return () => clearInterval(timer);
	});
</script>

<aside
	bind:this={box}
	class="fixed z-30 w-[380px] max-w-[calc(100vw-16px)] rounded-xl border border-moss bg-sheet p-3 shadow-lg"
	style:left="{at.left}px"
	style:top="{at.top}px"
	aria-label="a first clip"
>
	<h2 class="sheet-title flex items-center gap-1.5">
		<span class="flex-1">A first clip, in six steps</span>
		{#each steps as { say }, i (say)}
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
	{#if now}
		<p class="mt-2" aria-current="step" aria-live="polite">
			<span class="sr-only">step {step + 1} of {steps.length}:</span>
			{now.say}
			<span class="block text-muted">{now.keys}</span>
		</p>
		<p class="mt-2 flex items-center gap-2">
			<span class="flex-1 text-muted">Ctrl+K finds it again.</span>
			<button type="button" class="btn" onclick={next}>Skip this step</button>
			<button type="button" class="btn" onclick={close}>Close</button>
		</p>
	{:else}
		<p class="mt-2 flex items-center gap-2" aria-live="polite">
			<span class="flex-1">That is all it takes. Everything can be undone.</span>
			<button type="button" class="btn btn-main" onclick={close}>Done</button>
		</p>
	{/if}
</aside>

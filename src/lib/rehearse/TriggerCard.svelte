<script lang="ts">
	import ArrowDown from '@lucide/svelte/icons/arrow-down';
	import ArrowUp from '@lucide/svelte/icons/arrow-up';
	import CopyPlus from '@lucide/svelte/icons/copy-plus';
	import Play from '@lucide/svelte/icons/play';
	import Plus from '@lucide/svelte/icons/plus';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import { tellFault, triggerFaults } from '$core/check/trigger-faults';
	import { namesIn, tellDeed, tellDelay, tellMoment } from '$core/document/trigger-words';
	import type { Trigger } from '$core/document/triggers';
	import { inOrder } from '$core/document/types';
	import { removeTrigger } from '$core/edits/triggers';
	import { useSession } from '$lib/session/session.svelte';
	import LayerList from './LayerList.svelte';
	import MixList from './MixList.svelte';
	import type { Trial } from './trial.svelte';
	import { addTrigger, duplicateTrigger, moveTrigger } from './trigger-acts';
	import TriggerEditor from './TriggerEditor.svelte';
	import { momentIn } from '$core/formats/clips/triggers';

	/** Triggers as sentences: read, changed in place, tried by a click. */
	let { trial }: { trial: Trial } = $props();
	const session = useSession();
	const triggers = $derived(inOrder(session.doc.triggers));
	const names = $derived(namesIn(session.doc));
	const faults = $derived(
		new Map(triggerFaults(session.doc).map((fault) => [fault.trigger, tellFault(session.doc, fault)])),
	);
	let open = $state<string | null>(null);

	/** Lets the moment come about, as it would in the game. */
	function tryOut({ when }: Trigger) {
		if (trial.made) trial.send(momentIn(when, trial.made.names));
	}
	function add() {
		open = addTrigger(session) ?? open;
	}
</script>

<div class="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto">
	<ol class="flex flex-col gap-1" aria-label="triggers">
		{#each triggers as trigger, i (trigger.id)}
			{@const fault = faults.get(trigger.id)}
			{@const isOpen = open === trigger.id}
			<li
				class="rounded-md border {isOpen ? 'border-moss bg-sheet' : 'border-rule'} px-1.5 py-1"
				data-trigger={trigger.id}
			>
				<div class="flex items-start gap-1">
					<button
						type="button"
						class="min-h-[24px] min-w-0 flex-1 text-left"
						aria-expanded={isOpen}
						onclick={() => (open = isOpen ? null : trigger.id)}
						><span class="text-muted">When</span>
						<b class="font-semibold">{tellMoment(names, trigger.when)}</b>
						<span class="text-muted">→ {tellDelay(trigger.delay)}</span>{tellDeed(
							names,
							trigger.then,
						)}</button
					>
					<button
						type="button"
						class="btn btn-square !min-h-[24px] shrink-0"
						aria-label="try: {tellMoment(names, trigger.when)}"
						title="Try it: let this moment come about"
						onclick={() => tryOut(trigger)}><Play size={12} /></button
					>
				</div>
				{#if fault}<p class="text-xs text-rust" role="note">{fault}</p>{/if}
				{#if isOpen}
					<TriggerEditor {trigger} />
					<div class="mt-1 flex gap-1">
						<button
							type="button"
							class="btn btn-square !min-h-[24px]"
							aria-label="move up"
							disabled={i === 0}
							onclick={() => moveTrigger(session, trigger, -1)}><ArrowUp size={13} /></button
						>
						<button
							type="button"
							class="btn btn-square !min-h-[24px]"
							aria-label="move down"
							disabled={i === triggers.length - 1}
							onclick={() => moveTrigger(session, trigger, 1)}><ArrowDown size={13} /></button
						>
						<button
							type="button"
							class="btn !min-h-[24px]"
							onclick={() => (open = duplicateTrigger(session, trigger))}
							><CopyPlus size={13} />Duplicate</button
						>
						<button
							type="button"
							class="btn ml-auto !min-h-[24px]"
							onclick={() => session.edit('Delete trigger', (doc) => removeTrigger(doc, trigger.id))}
							><Trash2 size={13} />Delete</button
						>
					</div>
				{/if}
			</li>
		{:else}
			<li class="text-muted">
				Nothing plays by itself yet. A trigger says what plays when something happens: the start, a tap, a
				key, a cue, a call from code. Triggers leave with the clip file. To try a clip as it is, choose it
				under Play a clip.
			</li>
		{/each}
	</ol>
	<button
		type="button"
		class="btn self-start"
		data-field="new-trigger"
		disabled={session.project.clips.length === 0}
		onclick={add}><Plus size={13} />New trigger</button
	>
	<LayerList {trial} />
	<MixList {trial} />
</div>

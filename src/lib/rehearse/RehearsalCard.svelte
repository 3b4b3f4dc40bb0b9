<script lang="ts">
	import { generateKeyBetween } from 'fractional-indexing';
	import Circle from '@lucide/svelte/icons/circle';
	import Play from '@lucide/svelte/icons/play';
	import Square from '@lucide/svelte/icons/square';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import { toast } from 'svelte-sonner';
	import type { Rehearsal } from '$core/document/rehearsals';
	import { inOrder } from '$core/document/types';
	import { changeIn, putRehearsal, removeRehearsal } from '$core/edits/triggers';
	import type { Outcome } from '$core/rehearse/run';
	import { newId } from '$lib/session/ids';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import type { Trial } from './trial.svelte';

	/** What was done is kept, done again, and checked: a change of timing that breaks it is told here and in builds. */
	let { trial }: { trial: Trial } = $props();
	const session = useSession();
	const rehearsals = $derived(inOrder(session.doc.rehearsals));
	/** What came of those that were checked, for the document that they were checked on. */
	let outcomes = $state.raw<ReadonlyMap<string, { doc: unknown; outcome: Outcome }>>(new Map());
	let working = $state<string | null>(null);

	function stop() {
		const tape = trial.stopRecording();
		if (!tape) return;
		const names = new Set(rehearsals.map(({ name }) => name));
		let n = 1;
		while (names.has(`rehearsal ${n}`)) n++;
		const rehearsal: Rehearsal = {
			type: 'rehearsal',
			id: newId(),
			order: generateKeyBetween(rehearsals.at(-1)?.order ?? null, null),
			name: `rehearsal ${n}`,
			...tape,
			limits: { jump: null, kink: null, cues: null, tolerance: 0.05 },
		};
		session.edit('New rehearsal', (doc) => putRehearsal(doc, rehearsal));
		void check(rehearsal.id);
	}
	async function check(id: string) {
		const { doc } = session;
		working = id;
		try {
			const outcome = await trial.outcomeOf(doc, id);
			if (outcome) outcomes = new Map([...outcomes, [id, { doc, outcome }]]);
		} catch (error) {
			toast.error('It could not be checked', {
				description: error instanceof Error ? error.message : String(error),
			});
		} finally {
			working = null;
		}
	}
	function change(rehearsal: Rehearsal, changed: Partial<Pick<Rehearsal, 'name' | 'limits'>>) {
		session.edit('Change rehearsal', (doc) => changeIn(doc, { ...rehearsal, ...changed }, putRehearsal));
	}
	/** Limits a little above what came of it, and its cues as they passed. */
	function expectThis(rehearsal: Rehearsal, { jump, kink, cues }: Outcome) {
		const above = (share: number | undefined, least: number) =>
			Number(Math.max(least, 1.1 * (share ?? 0)).toPrecision(2));
		change(rehearsal, {
			limits: {
				...rehearsal.limits,
				jump: above(jump?.share, 0.02),
				kink: above(kink?.share, 1),
				cues: cues.map(({ t, clip, cue }) => ({ t: Number(t.toFixed(4)), clip, cue })),
			},
		});
		void Promise.resolve().then(() => check(rehearsal.id));
	}
	const expects = ({ limits: { jump, kink, cues } }: Rehearsal) =>
		[
			cues && `${cues.length} cue${cues.length === 1 ? '' : 's'}`,
			jump !== null && `pops in value below ${writeNumber(100 * jump, 1)} %`,
			kink !== null && `pops in speed below ${writeNumber(kink, 1)}/s`,
		].filter(Boolean);
	function told({ outcome: { cues, jump, kink } }: { outcome: Outcome }): string {
		return [
			`${cues.length} cues`,
			jump ? `pop in value ${writeNumber(100 * jump.share, 1)} % (${jump.part})` : 'no pop in value',
			kink ? `pop in speed ${writeNumber(kink.share, 1)}/s (${kink.part})` : 'no pop in speed',
		].join(' · ');
	}
</script>

<div class="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto">
	{#if trial.recorded}
		<button type="button" class="btn self-start !border-rust font-semibold text-rust" onclick={stop}
			><Square size={12} fill="currentColor" />Stop recording · {trial.recorded.length} inputs · {trial.time.toFixed(
				1,
			)} s</button
		>
	{:else}
		<button
			type="button"
			class="btn self-start"
			disabled={!trial.made}
			title="Begin anew, and keep what you do: taps, keys, the stick, calls"
			onclick={() => trial.startRecording()}
			><Circle size={12} class="text-rust" fill="currentColor" />Record</button
		>
	{/if}
	{#each rehearsals as rehearsal (rehearsal.id)}
		{@const known = outcomes.get(rehearsal.id)}
		{@const checked = known?.doc === session.doc ? known : undefined}
		<section class="flex flex-col gap-1 rounded-md border border-rule p-1.5" aria-label={rehearsal.name}>
			<div class="flex items-center gap-1">
				<input
					class="field !min-h-[24px] min-w-0 flex-1 font-semibold"
					aria-label="name of {rehearsal.name}"
					maxlength="120"
					value={rehearsal.name}
					onchange={(event) => {
						const name = event.currentTarget.value.trim();
						if (name !== '' && name !== rehearsal.name) change(rehearsal, { name });
					}}
				/>
				<button
					type="button"
					class="btn btn-square !min-h-[24px]"
					aria-label="replay {rehearsal.name}"
					title="Do it again"
					disabled={!trial.made}
					onclick={() => trial.replay(rehearsal)}><Play size={12} /></button
				>
				<button
					type="button"
					class="btn btn-square !min-h-[24px]"
					aria-label="delete {rehearsal.name}"
					onclick={() => session.edit('Delete rehearsal', (doc) => removeRehearsal(doc, rehearsal.id))}
					><Trash2 size={13} /></button
				>
			</div>
			<p class="text-xs text-muted">
				{writeNumber(rehearsal.seconds, 1)} s · {rehearsal.inputs.length} inputs · expects {expects(
					rehearsal,
				).join(', ') || 'nothing yet'}
			</p>
			<div class="flex flex-wrap gap-1">
				<button
					type="button"
					class="btn !min-h-[24px]"
					disabled={working !== null || !trial.made}
					onclick={() => void check(rehearsal.id)}>{working === rehearsal.id ? 'Checking …' : 'Check'}</button
				>
				{#if checked}
					<button
						type="button"
						class="btn !min-h-[24px]"
						onclick={() => expectThis(rehearsal, checked.outcome)}>Expect this from now on</button
					>
				{/if}
			</div>
			{#if checked}
				<p class="font-mono text-xs text-muted" data-outcome>{told(checked)}</p>
				{#each checked.outcome.faults as fault (`${fault.kind}${fault.t}${fault.message}`)}
					<p class="text-xs text-rust" role="note">{fault.t.toFixed(2)} s: {fault.message}</p>
				{:else}
					{#if expects(rehearsal).length > 0}<p class="text-xs text-moss">Everything as expected.</p>{/if}
				{/each}
			{/if}
		</section>
	{:else}
		<p class="text-muted">
			A rehearsal is what you did, kept with its times: it is replayed here, and <code class="font-mono"
				>hillock rehearse</code
			>
			fails in a build when a change of timing breaks it.
		</p>
	{/each}
</div>

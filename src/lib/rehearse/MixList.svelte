<script lang="ts">
	import Plus from '@lucide/svelte/icons/plus';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import X from '@lucide/svelte/icons/x';
	import { clipsNamed, MIX_STOPS, type Mix, type MixStop } from '$core/document/triggers';
	import { inOrder } from '$core/document/types';
	import { changeIn, putMix, removeMix } from '$core/edits/triggers';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import type { Trial } from './trial.svelte';
	import { addMix, nextStop } from './trigger-acts';

	/** Mixes: clips that play as one, of which a parameter says how much each counts. */
	let { trial }: { trial: Trial } = $props();
	const session = useSession();
	const mixes = $derived(inOrder(session.doc.mixes));
	const clips = $derived(session.project.clips);

	function change(mix: Mix, changed: Partial<Omit<Mix, 'type' | 'id'>>) {
		session.edit('Change mix', (doc) => changeIn(doc, { ...mix, ...changed }, putMix));
	}
	const changeStop = (mix: Mix, stop: MixStop, changed: Partial<MixStop>) =>
		change(mix, { stops: mix.stops.map((own) => (own === stop ? { ...own, ...changed } : own)) });
	/** A place that no other clip of the mix has. */
	const isFree = (mix: Mix, stop: MixStop, at: number) =>
		mix.stops.every((own) => own === stop || own.at !== at);
	function addStop(mix: Mix) {
		const stop = nextStop(session.doc, mix);
		if (stop) change(mix, { stops: [...mix.stops, stop] });
	}
	function rename(mix: Mix, text: string) {
		const name = text.trim();
		if (name !== '' && name !== mix.name) change(mix, { name });
	}
	const users = (mix: Mix) =>
		Object.values(session.doc.triggers).filter((trigger) => clipsNamed(trigger).includes(mix.id)).length;
	function share(clip: string): string {
		const name = trial.made?.names.clips.get(clip);
		const own = trial.playing.filter((playing) => playing.clip === name);
		return own.length > 0 ? `${Math.round(100 * own.reduce((sum, { weight }) => sum + weight, 0))} %` : '';
	}
</script>

<section class="flex flex-col gap-1 border-t border-rule pt-2" aria-label="mixes">
	<h2 class="sheet-title">Mixes</h2>
	{#if mixes.length === 0}
		<p class="text-muted">
			A mix plays clips as one, at the same phase: still, slow and fast, by a parameter such as a stick.
		</p>
	{/if}
	{#each mixes as mix (mix.id)}
		<div class="flex flex-col gap-1 rounded-md border border-rule px-1.5 py-1" data-mix={mix.name}>
			<span class="flex items-center gap-1">
				<input
					class="field w-[96px] !min-h-[24px] font-semibold"
					aria-label="name of mix {mix.name}"
					maxlength="120"
					value={mix.name}
					onchange={(event) => rename(mix, event.currentTarget.value)}
				/>
				<span class="text-muted">by</span>
				<input
					class="field w-[80px] !min-h-[24px]"
					aria-label="parameter of {mix.name}"
					maxlength="120"
					value={mix.parameter}
					onchange={(event) => change(mix, { parameter: event.currentTarget.value.trim() || mix.parameter })}
				/>
				<button
					type="button"
					class="btn btn-square ml-auto !min-h-[24px]"
					aria-label="delete mix {mix.name}"
					title={users(mix) > 0 ? `Delete it, with ${users(mix)} triggers of it` : 'Delete it'}
					onclick={() => session.edit('Delete mix', (doc) => removeMix(doc, mix.id))}
					><Trash2 size={13} /></button
				>
			</span>
			{#each mix.stops as stop, i (stop.clip)}
				<span class="flex items-center gap-1">
					<select
						class="field !min-h-[24px] w-[128px]"
						aria-label="clip {i + 1} of {mix.name}"
						value={stop.clip}
						onchange={(event) => changeStop(mix, stop, { clip: event.currentTarget.value })}
					>
						{#each clips as clip (clip.id)}
							<option
								value={clip.id}
								disabled={clip.id !== stop.clip && mix.stops.some((own) => own.clip === clip.id)}
								>{clip.name}</option
							>
						{/each}
					</select>
					<span class="text-muted">at</span>
					<NumberField
						label="place of clip {i + 1} of {mix.name}"
						value={stop.at}
						step={0.05}
						class="w-[52px] !min-h-[24px]"
						oncommit={(at) => isFree(mix, stop, at) && changeStop(mix, stop, { at })}
					/>
					<span class="ml-auto font-mono text-xs text-muted">{share(stop.clip)}</span>
					<button
						type="button"
						class="btn btn-square btn-plain !min-h-[24px]"
						aria-label="take clip {i + 1} out of {mix.name}"
						disabled={mix.stops.length <= MIX_STOPS.least}
						onclick={() => change(mix, { stops: mix.stops.filter((own) => own !== stop) })}
						><X size={13} /></button
					>
				</span>
			{/each}
			<span class="flex items-center gap-1">
				<button
					type="button"
					class="btn !min-h-[24px]"
					disabled={mix.stops.length >= MIX_STOPS.most || !nextStop(session.doc, mix)}
					onclick={() => addStop(mix)}><Plus size={13} />Clip</button
				>
				<span class="ml-auto text-muted">comes in over</span>
				<NumberField
					label="seconds over which {mix.name} comes in"
					value={mix.seconds}
					unit=" s"
					step={0.05}
					min={0}
					max={60}
					class="w-[58px] !min-h-[24px]"
					oncommit={(seconds) => change(mix, { seconds })}
				/>
			</span>
		</div>
	{/each}
	<button type="button" class="btn self-start" disabled={clips.length < 2} onclick={() => addMix(session)}
		><Plus size={13} />New mix</button
	>
</section>

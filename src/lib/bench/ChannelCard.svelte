<script lang="ts">
	import { END_KINDS, type EndKind } from '$player/curve/flat';
	import { newFormula, putFormula } from '$core/edits/formulas';
	import { setAccumulates, setColourSpace, setEnds } from '$core/edits/keys';
	import { channelLabel, kindOf, type Channel } from '$core/document/types';
	import { COLOUR_SPACES, type ColourSpace } from '$player/maths/colour';
	import { ticksToFrame } from '$core/time';
	import { deleteChannel } from '$lib/acts/key-actions';
	import type { Field } from '$lib/session/fields';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import Labelled from '$lib/ui/Labelled.svelte';

	/** What a channel does beyond its keys, how it goes on from round to round, and how its values mix. */
	let { channel }: { channel: Channel } = $props();
	const session = useSession();
	const kind = $derived(kindOf(channel.property));
	const part = $derived(session.doc.parts[channel.part]);
	const END_WORDS: Record<EndKind, string> = {
		hold: 'Hold',
		straight: 'Continue straight',
		repeat: 'Repeat',
		accumulate: 'Repeat and accumulate',
		alternate: 'Alternate',
	};
	const PLACES = { before: 'before first key', after: 'after last key' } as const;
	const COLOUR_WORDS: Record<ColourSpace, string> = { linear: 'Linear light', srgb: 'sRGB', oklab: 'OKLab' };
	const frameOf = (t: number) => writeNumber(ticksToFrame(t, session.frameRate), 1);
	const told = $derived.by(() => {
		const { keys } = channel;
		if (keys.length === 1) return `one key, frame ${frameOf(keys[0].t)}`;
		return `${keys.length} keys, frame ${frameOf(keys[0].t)} to ${frameOf(keys.at(-1)!.t)}`;
	});
</script>

<div class="flex flex-col gap-2.5">
	<div class="flex flex-wrap items-baseline gap-x-3">
		<h2 class="sheet-title">Channel</h2>
		<span class="truncate text-muted"
			>{part.name} / {channelLabel(channel.property, channel.component, part)}</span
		>
		<span class="ml-auto font-mono text-xs text-muted">{told}</span>
	</div>
	<div class="flex flex-wrap items-center gap-x-4 gap-y-1.5">
		{#each ['before', 'after'] as const as place (place)}
			<Labelled text={PLACES[place]}>
				<select
					class="field"
					aria-label={PLACES[place]}
					data-field={`ends-${place}` satisfies Field}
					value={channel.ends[place]}
					onchange={(event) =>
						session.edit('Change ends', (doc) =>
							setEnds(doc, channel.id, {
								...channel.ends,
								[place]: event.currentTarget.value as EndKind,
							}),
						)}
				>
					{#each END_KINDS as end (end)}<option value={end}>{END_WORDS[end]}</option>{/each}
				</select>
			</Labelled>
		{/each}
	</div>
	{#if kind === 'number'}
		<label class="flex items-center gap-1.5">
			<input
				type="checkbox"
				checked={channel.accumulates}
				onchange={(event) =>
					session.edit('Change accumulate', (doc) =>
						setAccumulates(doc, channel.id, event.currentTarget.checked),
					)}
			/>
			Accumulate
			<span class="text-muted">each iteration goes on from where the one before it ended</span>
		</label>
	{/if}
	{#if channel.property === 'colour'}
		<Labelled text="colour space">
			<select
				class="field"
				value={channel.colourSpace ?? 'linear'}
				onchange={(event) =>
					session.edit('Change how colours mix', (doc) =>
						setColourSpace(doc, channel.id, event.currentTarget.value as ColourSpace),
					)}
			>
				{#each COLOUR_SPACES as space (space)}<option value={space}>{COLOUR_WORDS[space]}</option>{/each}
			</select>
		</Labelled>
	{/if}
	<div class="flex flex-wrap gap-1.5">
		{#if kind === 'number'}
			<button
				type="button"
				class="btn"
				title="Keys stay below the formula, and count again when it is deleted"
				onclick={() => {
					const formula = newFormula(channel.clip, channel.part, channel.property, channel.component);
					session.edit('Add formula', (doc) => ({
						doc: putFormula(doc, formula),
						channel: formula.id,
					}));
				}}>Formula …</button
			>
		{/if}
		<button type="button" class="btn" onclick={() => deleteChannel(session, channel.id)}
			>Delete channel</button
		>
	</div>
</div>

<script lang="ts">
	import { END_KINDS, type EndKind } from '$player/curve/flat';
	import { canAccumulate, setAccumulates, setColourSpace, setEnds } from '$core/edits/keys';
	import type { Channel } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { unitAt } from '$core/document/units';
	import { COLOUR_SPACES, type ColourSpace } from '$player/maths/colour';
	import { ticksToFrame } from '$core/time';
	import { fastestOf, hasSpeed, tellSpeed } from '$lib/session/lane-speed';
	import { deleteChannels, goToFastest } from '$lib/acts/key-actions';
	import { addFormula, canCompute } from '$lib/acts/formula-acts';
	import type { Field } from '$lib/session/fields';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import Labelled from '$lib/ui/Labelled.svelte';

	/** What channels do beyond their keys, how they go on from round to round, and how their values mix. */
	let { channels }: { channels: readonly Channel[] } = $props();
	const session = useSession();
	const channel = $derived(channels[0]);
	const ids = $derived(channels.map(({ id }) => id));
	/** What they have in common; undefined where they differ. */
	function common<T>(of: (channel: Channel) => T, among = channels): T | undefined {
		const [first, ...others] = among.map(of);
		return others.every((value) => value === first) ? first : undefined;
	}
	const adding = $derived(channels.filter(({ property }) => canAccumulate(property)));
	const coloured = $derived(channels.filter(({ property }) => property === 'colour'));
	const moving = $derived(channels.filter(hasSpeed));
	const shown = $derived(common((c) => session.view.speeds.has(c.id), moving));
	const fastest = $derived(
		channels.length === 1 && session.clip && hasSpeed(channel) ? fastestOf(channel, session.clip) : null,
	);
	const accumulates = $derived(common((c) => c.accumulates, adding));
	const colourSpace = $derived(common((c) => c.colourSpace ?? 'linear', coloured));
	const names = $derived(
		channels
			.map(({ part, property, component }) => {
				const { [part]: own } = session.doc.parts;
				return `${own.name} / ${channelLabel(property, component, own)}`;
			})
			.join(', '),
	);
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
		const count = channels.reduce((sum, { keys }) => sum + keys.length, 0);
		const from = frameOf(Math.min(...channels.map(({ keys }) => keys[0].t)));
		if (count === 1) return `one key, frame ${from}`;
		return `${count} keys, frame ${from} to ${frameOf(Math.max(...channels.map(({ keys }) => keys.at(-1)!.t)))}`;
	});
</script>

<div class="flex flex-col gap-2.5">
	<div class="flex flex-wrap items-baseline gap-x-3">
		<h2 class="sheet-title">{channels.length > 1 ? `${channels.length} channels` : 'Channel'}</h2>
		<span class="min-w-0 truncate text-muted" title={names}>{names}</span>
		<span class="ml-auto font-mono text-xs text-muted">{told}</span>
	</div>
	<div class="flex flex-wrap items-center gap-x-4 gap-y-1.5">
		{#each ['before', 'after'] as const as place (place)}
			<Labelled text={PLACES[place]}>
				<select
					class="field"
					aria-label={PLACES[place]}
					data-field={`ends-${place}` satisfies Field}
					value={common((c) => c.ends[place]) ?? ''}
					onchange={(event) =>
						session.edit('Change ends', (doc) =>
							setEnds(doc, ids, { [place]: event.currentTarget.value as EndKind }),
						)}
				>
					{#if common((c) => c.ends[place]) === undefined}<option value="" disabled>Mixed</option>{/if}
					{#each END_KINDS as end (end)}<option value={end}>{END_WORDS[end]}</option>{/each}
				</select>
			</Labelled>
		{/each}
	</div>
	{#if adding.length > 0}
		<label class="flex items-center gap-1.5">
			<input
				type="checkbox"
				checked={accumulates ?? false}
				indeterminate={accumulates === undefined}
				onchange={(event) =>
					session.edit('Change accumulate', (doc) => setAccumulates(doc, ids, event.currentTarget.checked))}
			/>
			Accumulate
			<span class="text-muted">each iteration goes on from where the one before it ended</span>
		</label>
	{/if}
	{#if moving.length > 0}
		<div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
			<label class="flex items-center gap-1.5" title="Over the value in the lane (Shift+L)">
				<input
					type="checkbox"
					checked={shown ?? false}
					indeterminate={shown === undefined}
					onchange={() => session.view.toggleSpeeds(moving.map(({ id }) => id))}
				/>
				Speed curve
			</label>
			{#if fastest}
				<span class="font-mono text-xs text-muted"
					>peak {tellSpeed(fastest.speed, unitAt(session.doc, channel))} at frame {frameOf(fastest.at)}</span
				>
				<button
					type="button"
					class="btn !min-h-[24px]"
					disabled={fastest.speed === 0}
					title="To the fastest frame (Shift+F)"
					onclick={() => goToFastest(session)}>Go there</button
				>
			{/if}
		</div>
	{/if}
	{#if coloured.length > 0}
		<Labelled text="colour space">
			<select
				class="field"
				value={colourSpace ?? ''}
				onchange={(event) =>
					session.edit('Change how colours mix', (doc) =>
						setColourSpace(doc, ids, event.currentTarget.value as ColourSpace),
					)}
			>
				{#if colourSpace === undefined}<option value="" disabled>Mixed</option>{/if}
				{#each COLOUR_SPACES as space (space)}<option value={space}>{COLOUR_WORDS[space]}</option>{/each}
			</select>
		</Labelled>
	{/if}
	<div class="flex flex-wrap gap-1.5">
		{#if canCompute(channel) && channels.length === 1}
			<button
				type="button"
				class="btn"
				title="Keys stay below the formula, and count again when it is deleted"
				onclick={() => addFormula(session, channel)}>Formula …</button
			>
		{/if}
		<button type="button" class="btn" onclick={() => deleteChannels(session, channels)}
			>{channels.length > 1 ? `Delete ${channels.length} channels` : 'Delete channel'}</button
		>
	</div>
</div>

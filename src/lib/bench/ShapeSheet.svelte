<script lang="ts">
	import type { Shape } from '$player/easing/shape';
	import { removeSavedShape } from '$core/edits/clips';
	import { byOrder } from '$core/document/types';
	import { keepShape } from '$lib/acts/keep-shape';
	import { useSession } from '$lib/session/session.svelte';
	import { shapeWords } from '$lib/acts/synonyms';
	import KeepUnderName from '$lib/ui/KeepUnderName.svelte';
	import { rankOf } from '$lib/ui/find';
	import { roving } from '$lib/ui/roving';
	import { FAMILY_SHEET, isChosen, MORE_EASINGS, SHAPE_SHEET, type ShapeChoice } from './shapes';
	import ShapeTile from './ShapeTile.svelte';

	interface Props {
		shape: Shape | null;
		/** The span's shape as one that can be kept; null where it has none of its own. */
		keepable: Shape | null;
		onchoose: (shape: Shape) => void;
	}
	let { shape, keepable, onchoose }: Props = $props();
	const session = useSession();
	const own = $derived(Object.values(session.doc.shapes).sort(byOrder));
	let search = $state('');

	const wanted = $derived(search.trim().toLowerCase());
	const sheet = $derived(
		wanted === ''
			? [...SHAPE_SHEET, ...MORE_EASINGS]
			: [...SHAPE_SHEET, ...FAMILY_SHEET]
					.map((choice) => ({ choice, rank: rankOf(findable(choice), wanted) }))
					.filter(({ rank }) => rank > 0)
					.sort((a, b) => b.rank - a.rank)
					.map(({ choice }) => choice),
	);
	const ownShown = $derived(own.filter(({ name }) => rankOf({ label: name }, wanted) > 0));
	const isSame = (a: Shape | null, b: Shape) => a !== null && JSON.stringify(a) === JSON.stringify(b);

	const findable = ({ name, note }: ShapeChoice) => ({
		label: name,
		words: [...(note ? [note] : []), ...shapeWords(name)],
	});
</script>

<div class="flex flex-col gap-1.5">
	<div class="flex items-center gap-2">
		<input
			type="search"
			class="field !min-h-[24px] w-[170px]"
			placeholder="Find an easing"
			aria-label="find a shape"
			bind:value={search}
		/>
		<KeepUnderName
			label="Save shape"
			what="shape"
			title={keepable
				? 'Put this shape into the sheet, under a name'
				: 'This span has no shape of its own to keep'}
			disabled={!keepable}
			onkeep={(name) => keepable && keepShape(session, name, keepable)}
		/>
	</div>
	<div
		class="grid grid-cols-[repeat(auto-fill,minmax(64px,1fr))] gap-1"
		role="group"
		aria-label="shapes"
		{@attach roving('[data-tile]')}
	>
		{#each ownShown as saved (saved.id)}
			<ShapeTile
				name={saved.name}
				shape={saved.shape}
				chosen={isSame(shape, saved.shape)}
				onchoose={() => onchoose(saved.shape)}
				onremove={() =>
					session.edit(`Delete saved shape ${saved.name}`, (doc) => removeSavedShape(doc, saved.id))}
			/>
		{/each}
		{#each sheet as choice (choice.name)}
			<ShapeTile
				name={choice.name}
				note={choice.note}
				shape={choice.shape}
				shortcut={choice.shortcut}
				chosen={shape !== null &&
					(wanted === '' ? isChosen(choice, shape) : isSame(shape, choice.shape)) &&
					!ownShown.some((saved) => isSame(shape, saved.shape))}
				onchoose={() => onchoose(choice.shape)}
			/>
		{/each}
	</div>
	{#if sheet.length === 0 && ownShown.length === 0}
		<p class="text-muted">
			No results for “{search}”.
		</p>
	{/if}
</div>

<script lang="ts">
	import { toast } from 'svelte-sonner';
	import { MAPS, type Entity } from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { tellTrigger } from '$core/document/trigger-words';
	import { useSession } from '$lib/session/session.svelte';
	import type { Conflict } from '$lib/session/steps';
	import Sheet from '$lib/ui/Sheet.svelte';

	/** Edits that were not taken, since another window changed the same: both are told, and one side is chosen. */
	const session = useSession();
	const { saver } = session;
	const conflicts = $derived(saver.conflicts);
	// Told without taking the focus: somebody may be typing. It stays in the bar until it is chosen.
	$effect(() => {
		const last = conflicts.at(-1);
		if (!last) toast.dismiss('conflict');
		else
			toast.error(`Not saved: ${last.label}`, {
				id: 'conflict',
				description: last.reason,
				duration: 15_000,
				action: { label: 'Choose', onClick: () => (session.asks.conflicts = true) },
			});
	});

	function nameOf(entity: Entity): string {
		const { doc } = session;
		if (entity.type === 'channel' || entity.type === 'formula') {
			const part = doc.parts[entity.part];
			return `${part?.name ?? entity.part} ${channelLabel(entity.property, entity.component, part)}`;
		}
		if (entity.type === 'blend')
			return `blend of ${doc.clips[entity.from]?.name} to ${doc.clips[entity.to]?.name}`;
		if (entity.type === 'trigger') return `trigger: ${tellTrigger(doc, entity)}`;
		return entity.name;
	}
	function namesOf({ mine }: Conflict): string {
		const { doc } = session;
		const dropped = mine.drop.flatMap((id): Entity[] =>
			MAPS.flatMap((map) => (Object.hasOwn(doc[map], id) ? [doc[map][id]] : [])),
		);
		const names = [...mine.made.map(({ after }) => after), ...dropped].map(nameOf);
		return names.length > 4
			? `${names.slice(0, 4).join(', ')} and ${names.length - 4} more`
			: names.join(', ');
	}
	function settle(chosen: readonly Conflict[], side: 'mine' | 'theirs') {
		for (const { editId, label } of chosen) {
			if (!saver.sync.settle(editId, side))
				toast.error(`“${label}” does not fit any more`, {
					description: 'What it was about is gone. Keep what is there, or undo what removed it first.',
				});
		}
	}
</script>

<Sheet
	bind:open={() => conflicts.length > 0 && session.asks.conflicts, (open) => (session.asks.conflicts = open)}
	title={conflicts.length === 1 ? 'One edit was not saved' : `${conflicts.length} edits were not saved`}
	about="What is shown now is what the server has. Choose for each edit of yours whether it is made again on top of it."
	width="w-[600px]"
	closing="Decide later"
>
	<ul class="mt-3 overflow-y-auto rounded-md border border-rule" aria-label="edits that were not saved">
		{#each conflicts as conflict (conflict.editId)}
			<li class="border-b border-rule px-3 py-2 last:border-b-0" data-conflict={conflict.label}>
				<p class="font-semibold">{conflict.label}</p>
				<p class="text-muted">{namesOf(conflict)}</p>
				<p>
					{conflict.reason}
					{#if conflict.theirs.length > 0}
						There: “{conflict.theirs.join('”, “')}”.
					{/if}
				</p>
				<p class="mt-1 flex gap-2">
					<button type="button" class="btn" onclick={() => settle([conflict], 'mine')}>Use mine</button>
					<button type="button" class="btn" onclick={() => settle([conflict], 'theirs')}
						>Keep what is there</button
					>
				</p>
			</li>
		{/each}
	</ul>
	{#snippet aside()}
		{#if conflicts.length > 1}
			<button type="button" class="btn" onclick={() => settle(conflicts, 'mine')}>Use all of mine</button>
			<button type="button" class="btn" onclick={() => settle(conflicts, 'theirs')}
				>Keep all that is there</button
			>
		{/if}
	{/snippet}
</Sheet>

<script lang="ts">
	import { bestSeconds, meetingsOf, popShares } from '$core/blend/meetings';
	import { BLEND_WORDS } from '$core/document/labels';
	import { blendId, type Blend } from '$core/document/types';
	import { useSession } from '$lib/session/session.svelte';
	import BlendCell from './BlendCell.svelte';
	import BlendEditor from './BlendEditor.svelte';
	import type { Trial } from './trial.svelte';

	/** How clips give way to one another, from × to: those alone that triggers let meet. */
	let { trial }: { trial: Trial } = $props();
	const session = useSession();
	const meetings = $derived(meetingsOf(session.doc));
	const from = $derived(session.project.clips.filter(({ id }) => meetings.some((own) => own.from === id)));
	const to = $derived(session.project.clips.filter(({ id }) => meetings.some((own) => own.to === id)));
	let open = $state<{ from: string; to: string } | null>(null);
	let phase = $state(0.5);
	/** Speed pops are called so above this share of a range a second. */
	let limit = $state(2);

	/** What is between two clips; where nothing is set, a cut. */
	function blendOf(a: string, b: string): Blend {
		const id = blendId(a, b);
		return (
			session.doc.blends[id] ?? {
				type: 'blend',
				id,
				from: a,
				to: b,
				kind: 'cut',
				seconds: 0,
				start: 'start',
				shape: { kind: 'linear' },
			}
		);
	}
	const opened = $derived(
		open && session.doc.clips[open.from] && session.doc.clips[open.to] ? blendOf(open.from, open.to) : null,
	);
	const best = $derived(
		opened && opened.kind !== 'cut' && !session.project.isDragging
			? bestSeconds(session.doc, opened, limit)
			: null,
	);
	const shares = $derived(
		new Map(
			meetings.map(({ from: a, to: b }) => [blendId(a, b), popShares(session.doc, blendOf(a, b))] as const),
		),
	);

	function choose(a: string, b: string) {
		open = open?.from === a && open.to === b ? null : { from: a, to: b };
		play();
	}
	function play() {
		const names = trial.made?.names.clips;
		if (!open || !names) trial.showLoop(null);
		else trial.showLoop({ from: names.get(open.from)!, to: names.get(open.to)!, phase });
	}
	$effect(() => () => trial.showLoop(null));
</script>

<div class="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto">
	{#if meetings.length === 0}
		<p class="text-muted">
			No two clips meet yet. Where triggers play several clips in one place, it is said here how one gives way
			to the other.
		</p>
	{:else}
		<div class="overflow-x-auto">
			<table
				class="border-separate border-spacing-1 text-xs"
				aria-label="blends, from the clips in rows to those in columns"
			>
				<thead>
					<tr>
						<th class="text-left font-normal text-muted" scope="col">from ↓ to →</th>
						{#each to as clip (clip.id)}<th class="max-w-[64px] text-left font-semibold" scope="col"
								>{clip.name}</th
							>{/each}
					</tr>
				</thead>
				<tbody>
					{#each from as clip (clip.id)}
						<tr>
							<th class="max-w-[70px] text-left font-semibold" scope="row">{clip.name}</th>
							{#each to as other (other.id)}
								{@const isMet = meetings.some((own) => own.from === clip.id && own.to === other.id)}
								<td>
									{#if isMet}
										<BlendCell
											blend={blendOf(clip.id, other.id)}
											shares={shares.get(blendId(clip.id, other.id))!}
											{limit}
											label="{clip.name} to {other.name}: {BLEND_WORDS[blendOf(clip.id, other.id).kind]}"
											isOpen={open?.from === clip.id && open.to === other.id}
											onclick={() => choose(clip.id, other.id)}
										/>
									{/if}
								</td>
							{/each}
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{/if}
	{#if opened}
		<BlendEditor
			blend={opened}
			shares={shares.get(opened.id) ?? popShares(session.doc, opened)}
			{best}
			bind:limit
			bind:phase={() => phase, (next) => ((phase = next), play())}
			onclose={() => choose(opened.from, opened.to)}
		/>
	{/if}
</div>

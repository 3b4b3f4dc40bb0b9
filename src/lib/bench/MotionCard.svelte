<script lang="ts">
	import { onDestroy } from 'svelte';
	import { byOrder } from '$core/document/types';
	import type { Motion } from '$core/document/motions';
	import { distanceOn, MOST_MOTION_ROUNDS } from '$core/motions/put';
	import { STARTER_MOTIONS } from '$core/motions/starter';
	import { deleteMotion, keepPickedAsMotion, motionsFile, takeMotionsFile } from '$lib/acts/motions';
	import { MotionTry } from '$lib/acts/motion-try.svelte';
	import { pickedParts } from '$lib/acts/part-acts';
	import { useSession } from '$lib/session/session.svelte';
	import KeepUnderName from '$lib/ui/KeepUnderName.svelte';
	import { rankOf } from '$lib/ui/find';
	import { roving } from '$lib/ui/roving';
	import MotionAmountsRow from './MotionAmountsRow.svelte';
	import MotionTile from './MotionTile.svelte';

	/** Ready-made motions and one's own, tried on the picked parts. */
	const session = useSession();
	const trying = new MotionTry(session);
	onDestroy(() => trying.cancel());

	let search = $state('');
	let file: HTMLInputElement;
	const wanted = $derived(search.trim().toLowerCase());
	const own = $derived(Object.values(session.doc.motions).sort(byOrder));
	const choices = $derived(
		[...own.map((motion) => ({ motion, about: '', words: '' })), ...STARTER_MOTIONS].filter(
			({ motion, about, words }) =>
				rankOf(
					{ label: motion.name, words: [...words.split(' '), ...about.split(' '), ...moved(motion)] },
					wanted,
				) > 0,
		),
	);
	/** What it moves: it is found by that too. */
	const moved = ({ channels }: Motion) => channels.map(({ property }) => property);
	const parts = $derived(pickedParts(session));
	const first = $derived(parts.length > 0 ? session.doc.parts[parts[0]] : undefined);
	const names = $derived(parts.map((id) => session.doc.parts[id]?.name).join(', '));

	// Any other edit takes away what is only tried; so does another part in hand.
	const inHand = $derived(parts.join());
	$effect(() => {
		if (trying.motion && !session.project.isDragging) trying.cancel();
	});
	let triedOn = '';
	$effect(() => {
		if (inHand !== triedOn) trying.cancel();
	});
	function choose(motion: Motion) {
		triedOn = inHand;
		trying.begin(motion);
	}
	function save() {
		const address = URL.createObjectURL(motionsFile(session));
		const link = document.createElement('a');
		link.href = address;
		link.download = `${session.doc.project.name}.hillock-motions.json`;
		link.click();
		URL.revokeObjectURL(address);
	}
</script>

<svelte:window
	onkeydown={(event) => {
		if (event.key !== 'Escape' || !trying.isOn) return;
		event.preventDefault();
		trying.cancel();
	}}
/>
<div class="flex flex-col gap-2">
	<div class="flex flex-wrap items-center gap-2">
		<input
			type="search"
			class="field !min-h-[24px] w-[170px]"
			placeholder="Find a motion"
			aria-label="find a motion"
			data-field="motion-find"
			bind:value={search}
		/>
		<KeepUnderName
			label="Save keys as motion"
			what="motion"
			title={session.selection.keys.size > 0
				? 'What the selected keys do, to be put on other parts'
				: 'Select the keys that make the motion first'}
			disabled={session.selection.keys.size === 0}
			onkeep={(name) => keepPickedAsMotion(session, name)}
		/>
		<span class="flex-1"></span>
		<button
			type="button"
			class="btn !min-h-[24px]"
			title="Motions of another project, from a file"
			onclick={() => file.click()}>Import</button
		>
		<button
			type="button"
			class="btn !min-h-[24px]"
			disabled={own.length === 0}
			title={own.length > 0
				? 'Your own motions as a file, for other projects'
				: 'There is no motion of your own yet'}
			onclick={save}>Export</button
		>
		<input
			type="file"
			class="hidden"
			accept=".json,application/json"
			aria-label="file of motions"
			bind:this={file}
			onchange={() => {
				const [chosen] = file.files ?? [];
				if (chosen) void takeMotionsFile(session, chosen);
				file.value = '';
			}}
		/>
	</div>
	<!-- As high with the amounts as without: the tile under the pointer stays there. -->
	<div class="flex min-h-[64px] flex-col justify-center rounded-md border border-rule bg-sheet px-2 py-1.5">
		{#if trying.motion && trying.amounts && first}
			<MotionAmountsRow
				motion={trying.motion}
				amounts={trying.amounts}
				distance={distanceOn(trying.motion, first, session.doc.project.space)}
				several={parts.length > 1}
				{names}
				most={MOST_MOTION_ROUNDS}
				onchange={(amounts) => trying.change(amounts)}
				onput={() => trying.put()}
				oncancel={() => trying.cancel()}
			/>
		{:else if parts.length === 0}
			<p class="text-muted">Select a part, in the lanes or on the stage: motions are tried on it.</p>
		{:else}
			<p class="text-muted">
				Choose one: it plays on {names} from the playhead. Nothing is changed until you put it.
			</p>
		{/if}
	</div>
	<div
		class="grid grid-cols-[repeat(auto-fill,minmax(72px,1fr))] gap-1"
		role="group"
		aria-label="motions"
		{@attach roving('[data-tile]')}
	>
		{#each choices as { motion, about } (motion.id)}
			<MotionTile
				{motion}
				{about}
				disabled={parts.length === 0}
				chosen={trying.motion?.id === motion.id}
				onchoose={() => choose(motion)}
				onremove={session.doc.motions[motion.id] ? () => deleteMotion(session, motion) : undefined}
			/>
		{/each}
	</div>
	{#if choices.length === 0}<p class="text-muted">No results for “{search}”.</p>{/if}
</div>

<script lang="ts">
	import Plus from '@lucide/svelte/icons/plus';
	import Save from '@lucide/svelte/icons/save';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import { inOrder } from '$core/document/types';
	import { useSession } from '$lib/session/session.svelte';
	import { changeProfile, deleteProfile, keepProfile, renameProfile } from './profile-acts';
	import type { ShipState } from './ship-state.svelte';

	/** Ways in which clips leave, kept with the project: chosen here by a click, in builds by their names. */
	let { ship }: { ship: ShipState } = $props();
	const session = useSession();
	const profiles = $derived(inOrder(session.doc.profiles));
	/** The profile that was chosen last: what is changed since can be kept in it. */
	let last = $state('');
</script>

<section aria-label="profiles">
	<div class="mb-1 flex items-center justify-between">
		<h2 class="sheet-title">Profiles</h2>
		<button
			type="button"
			class="btn btn-plain !min-h-[24px]"
			title="Keep clips, format, bounds and options under a name, for here and for builds"
			disabled={ship.profile !== null || ship.chosen.length === 0}
			onclick={() => keepProfile(session, ship)}><Plus size={13} />Keep these choices</button
		>
	</div>
	{#if profiles.length > 0}
		<ul class="rounded-md border border-rule bg-sheet">
			{#each profiles as profile (profile.id)}
				{@const isChosen = ship.profile?.id === profile.id}
				<li
					class="flex min-h-[30px] items-center gap-1 border-b border-rule px-1 last:border-b-0 {isChosen
						? 'bg-band'
						: ''}"
					data-profile={profile.name}
				>
					<input
						type="radio"
						name="profile"
						class="mx-1"
						aria-label="use profile {profile.name}"
						checked={isChosen}
						onchange={() => {
							last = profile.id;
							ship.take(profile);
						}}
					/>
					<input
						class="field !min-h-[24px] min-w-0 flex-1 !border-transparent !bg-transparent hover:!border-rule"
						aria-label="name of profile {profile.name}"
						maxlength="120"
						value={profile.name}
						onchange={(event) => {
							renameProfile(session, profile, event.currentTarget.value);
							event.currentTarget.value = session.doc.profiles[profile.id]?.name ?? '';
						}}
					/>
					{#if last === profile.id && !isChosen && ship.chosen.length > 0}
						<button
							type="button"
							class="btn btn-square btn-plain !min-h-[24px]"
							aria-label="keep the choices of now in profile {profile.name}"
							title="Keep the choices of now in {profile.name}"
							onclick={() => changeProfile(session, profile, ship.choices)}><Save size={13} /></button
						>
					{/if}
					<button
						type="button"
						class="btn btn-square btn-plain !min-h-[24px]"
						aria-label="delete profile {profile.name}"
						onclick={() => deleteProfile(session, profile.id)}><Trash2 size={13} /></button
					>
				</li>
			{/each}
		</ul>
	{/if}
</section>

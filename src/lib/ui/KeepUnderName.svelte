<script lang="ts">
	interface Props {
		/** On the button that opens the field for the name. */
		label: string;
		/** What is kept, for who cannot see. */
		what: string;
		title: string;
		disabled: boolean;
		onkeep: (name: string) => void;
	}
	let { label, what, title, disabled, onkeep }: Props = $props();
	let naming = $state<string | null>(null);

	function keep(event: SubmitEvent) {
		event.preventDefault();
		const name = naming?.trim();
		if (name) onkeep(name);
		naming = null;
	}
</script>

{#if naming === null}
	<button type="button" class="btn !min-h-[24px]" {disabled} {title} onclick={() => (naming = '')}
		>{label}</button
	>
{:else}
	<form class="flex items-center gap-1" onsubmit={keep}>
		<!-- svelte-ignore a11y_autofocus -->
		<input
			class="field !min-h-[24px] w-[130px]"
			aria-label="name of the {what}"
			placeholder="name"
			maxlength="120"
			autofocus
			bind:value={naming}
			onkeydown={(event) => event.key === 'Escape' && (naming = null)}
		/>
		<button type="submit" class="btn !min-h-[24px]" disabled={!naming.trim()}>Save</button>
	</form>
{/if}

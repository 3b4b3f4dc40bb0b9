<script lang="ts">
	import { DropdownMenu } from 'bits-ui';
	import { DRAWING_NAMES } from '$core/document/labels';
	import { addPart, newPartKinds } from '$lib/acts/new-parts';
	import { ACCEPTED, filesForParts, takeFile, type FileKind } from '$lib/acts/part-files';
	import { useSession } from '$lib/session/session.svelte';
	import { sentence } from '$lib/ui/sentence';
	import IconSheet from './IconSheet.svelte';

	/** What a new part can be: drawn here, or taken from a file. */
	let { open = $bindable() }: { open: boolean } = $props();
	const session = useSession();
	let choosingIcon = $state(false);
	const inputs: Partial<Record<FileKind, HTMLInputElement>> = $state({});
	const fromFiles = $derived(filesForParts(session.doc.project.space));
	// A command asks for one.
	$effect(() => {
		const asked = session.asks.newPart;
		if (!asked) return;
		session.asks.newPart = null;
		if (asked === 'icon') choosingIcon = true;
		else inputs[asked]?.click();
	});
</script>

<DropdownMenu.Root bind:open>
	<DropdownMenu.Trigger class="fixed bottom-10 left-3 size-px opacity-0" tabindex={-1} aria-hidden="true"
	></DropdownMenu.Trigger>
	<DropdownMenu.Portal>
		<DropdownMenu.Content class="menu" side="top" align="start" aria-label="new part">
			{#each newPartKinds(session.doc.project.space) as kind (kind)}
				<DropdownMenu.Item class="menu-item" onSelect={() => addPart(session, kind)}
					>{sentence(DRAWING_NAMES[kind])}</DropdownMenu.Item
				>
			{/each}
			<DropdownMenu.Separator class="my-1 border-t border-rule" />
			<DropdownMenu.Item class="menu-item" onSelect={() => (choosingIcon = true)}>Icon …</DropdownMenu.Item>
			{#each fromFiles as { kind, label } (kind)}
				<DropdownMenu.Item class="menu-item" onSelect={() => inputs[kind]?.click()}
					>{label} …</DropdownMenu.Item
				>
			{/each}
		</DropdownMenu.Content>
	</DropdownMenu.Portal>
</DropdownMenu.Root>
{#each fromFiles as { kind } (kind)}
	<input
		bind:this={inputs[kind]}
		type="file"
		class="hidden"
		accept={ACCEPTED[kind]}
		aria-label="{kind} for a new part"
		onchange={(event) => {
			const file = event.currentTarget.files?.[0];
			event.currentTarget.value = '';
			if (file) void takeFile(session, kind, file);
		}}
	/>
{/each}
<IconSheet bind:open={choosingIcon} />

<script lang="ts">
	import { Combobox } from 'bits-ui';
	import { numbersOf } from '$core/document/rest';
	import {
		channelId,
		formulaId,
		isVector,
		type Component,
		type Part,
		type Property,
	} from '$core/document/types';
	import { channelLabel } from '$core/document/labels';
	import { useSession } from '$lib/session/session.svelte';

	interface Address {
		part: string;
		property: Property;
		component: Component;
	}
	interface Props {
		label: string;
		/** Null for no number at all. */
		value: Address | null;
		/** What null is called. */
		none?: string;
		onpick: (value: Address | null) => void;
	}
	/** Any number of any part, found by some of its words. */
	let { label, value, none = 'a fixed number', onpick }: Props = $props();
	const session = useSession();
	/** More would not be read through. */
	const SHOWN = 60;

	let words = $state('');
	let isOpen = $state(false);
	const keyOf = ({ part, property, component }: Address) => [part, property, component].join('/');
	const nameOf = (part: Part, { property, component }: Omit<Address, 'part'>) =>
		`${part.name} / ${channelLabel(property, component, part)}`;
	const shown = $derived(value ? nameOf(session.doc.parts[value.part], value) : none);
	const found = $derived.by(() => {
		if (!isOpen) return [];
		const wanted = words
			.toLowerCase()
			.split(/[\s/]+/)
			.filter(Boolean);
		const fits = (name: string) => wanted.every((word) => name.toLowerCase().includes(word));
		return session.project.tree
			.flatMap(({ part }) =>
				numbersOf(part)
					.filter(({ property }) => !isVector(property))
					.map((number) => ({ value: { ...number, part: part.id }, name: nameOf(part, number) })),
			)
			.filter(({ name }) => fits(name))
			.sort((a, b) => Number(moves(b.value)) - Number(moves(a.value)))
			.slice(0, SHOWN);
	});
	/** What moves in the open clip stands first. */
	function moves({ part, property, component }: Address): boolean {
		const { doc, clipId } = session;
		const clip = clipId ?? '';
		return (
			doc.channels[channelId(clip, part, property, component)] !== undefined ||
			doc.formulas[formulaId(clip, part, property, component)] !== undefined
		);
	}
	function pick(key: string) {
		onpick(found.find((choice) => keyOf(choice.value) === key)?.value ?? null);
	}
</script>

<Combobox.Root
	type="single"
	value={value ? keyOf(value) : none}
	inputValue={shown}
	bind:open={isOpen}
	onOpenChange={() => (words = '')}
	onValueChange={pick}
	allowDeselect={false}
>
	<Combobox.Input
		class="field w-full !min-h-[24px]"
		aria-label={label}
		defaultValue={shown}
		onfocus={(event) => {
			event.currentTarget.select();
			isOpen = true;
		}}
		oninput={(event) => {
			words = event.currentTarget.value;
			isOpen = true;
		}}
		onblur={(event) => (event.currentTarget.value = shown)}
	/>
	<Combobox.Portal>
		<Combobox.Content class="menu !max-h-[40vh] w-[280px]" sideOffset={2}>
			{#if words === ''}
				<Combobox.Item class="menu-item" value={none} label={none}>{none}</Combobox.Item>
			{/if}
			{#each found as choice (keyOf(choice.value))}
				<Combobox.Item class="menu-item" value={keyOf(choice.value)} label={choice.name}
					>{choice.name}</Combobox.Item
				>
			{:else}
				<p class="px-2 py-1 text-muted">No results.</p>
			{/each}
		</Combobox.Content>
	</Combobox.Portal>
</Combobox.Root>

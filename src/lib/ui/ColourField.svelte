<script lang="ts">
	import { onMount } from 'svelte';
	import Popover from './Popover.svelte';

	interface Props {
		label: string;
		/** `#rrggbb`, or `#rrggbbaa` with alpha. */
		value: string;
		alpha?: boolean;
		disabled?: boolean;
		/** Its id, for commands. */
		field?: string;
		class?: string;
		/** While it is being chosen; without it nothing is shown before it is kept. */
		onpreview?: (hex: string) => void;
		oncommit: (hex: string) => void;
		/** What was shown is not wanted. */
		oncancel?: () => void;
	}
	/** A swatch, and what it is chosen with: an area, its hue, how opaque it is, and its text. */
	let {
		label,
		value,
		alpha = false,
		disabled = false,
		field,
		class: own = '',
		onpreview,
		oncommit,
		oncancel,
	}: Props = $props();

	/** What is under way and not kept yet. */
	let trying: string | null = null;
	let isReady = $state(false);
	onMount(async () => {
		// They want a window at once, which a page that is drawn on the server has not.
		await Promise.all([
			import('vanilla-colorful/hex-color-picker.js'),
			import('vanilla-colorful/hex-alpha-color-picker.js'),
		]);
		isReady = true;
	});

	function take(event: CustomEvent<{ value: string }>) {
		trying = full(event.detail.value);
		onpreview?.(trying);
	}
	function keep() {
		if (trying !== null) oncommit(trying);
		trying = null;
	}
	function giveUp() {
		if (trying !== null) oncancel?.();
		trying = null;
	}
	/** The picker leaves the alpha of opaque colours out. */
	const full = (hex: string) => (alpha && hex.length === 7 ? `${hex}ff` : hex);

	/** What people write of a colour, with or without #, short or long; null for what is none. */
	function read(text: string): string | null {
		const hex = text.trim().replace(/^#/, '').toLowerCase();
		const long = /^[0-9a-f]{3,4}$/.test(hex) ? [...hex].map((c) => c + c).join('') : hex;
		const fits = alpha ? /^([0-9a-f]{6}|[0-9a-f]{8})$/ : /^[0-9a-f]{6}$/;
		// Six digits say nothing of how opaque it is.
		return fits.test(long) ? `#${long}${long.length === 6 ? value.slice(7) : ''}` : null;
	}
	let written = $state<string | null>(null);
	function commitWritten() {
		const hex = written === null ? null : read(written);
		written = null;
		if (hex !== null && hex !== value) oncommit(hex);
	}
</script>

<svelte:window onpointerup={keep} />

<Popover
	{label}
	{field}
	title={value}
	{disabled}
	class="min-h-[24px] overflow-hidden rounded-md border border-rule bg-sheet p-0.5 disabled:opacity-50 {own}"
	contentClass="!min-w-0 !p-2"
	align="start"
>
	{#snippet trigger()}
		<span class="chequered block size-full rounded-sm"
			><span class="block size-full rounded-sm" style:background={value}></span></span
		>
	{/snippet}
	{#if isReady}
		<!-- The handles in it take the focus; their keys come up from there. -->
		<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
		<svelte:element
			this={alpha ? 'hex-alpha-color-picker' : 'hex-color-picker'}
			class="colours"
			color={value}
			role="group"
			aria-label={label}
			oncolor-changed={take}
			onkeyup={keep}
			onkeydown={(event: KeyboardEvent) => {
				if (event.key === 'Escape') giveUp();
			}}
		></svelte:element>
	{/if}
	<input
		class="field mt-2 w-full font-mono"
		aria-label="{label} in hexadecimal"
		aria-invalid={written !== null && read(written) === null}
		spellcheck="false"
		maxlength="9"
		value={written ?? value}
		oninput={(event) => (written = event.currentTarget.value)}
		onblur={commitWritten}
		onkeydown={(event) => {
			if (event.key === 'Enter') commitWritten();
			else if (event.key === 'Escape') written = null;
		}}
	/>
</Popover>

<script lang="ts">
	import { tick } from 'svelte';
	import { toast } from 'svelte-sonner';
	import { isComputed, readNumber, unitsFor, writeNumber } from './number-text';

	interface Props {
		value: number;
		label: string;
		/** By which a command finds it. */
		field?: string;
		/** Shown behind the number; others of its kind may be typed. */
		unit?: string;
		/** Of a field that counts frames, so that seconds may be typed; with it the unit need not be shown. */
		frameRate?: number;
		digits?: number;
		/** Change for an arrow key and for a pixel of scrubbing. */
		step?: number;
		min?: number;
		max?: number;
		disabled?: boolean;
		/** Whether Enter tells also the value that is there already: it sets a key. */
		keysSame?: boolean;
		/** Of several values that differ: none is shown, and what is typed or scrubbed is told by `oneach`. */
		mixed?: boolean;
		/** A change to each of several values: what it is to become, of what it was. */
		oneach?: (change: (old: number) => number) => void;
		class?: string;
		/** While it goes on: scrubbing. */
		onpreview?: (value: number) => void;
		/** At the end: one step of undo. */
		oncommit: (value: number) => void;
		oncancel?: () => void;
	}
	let {
		value,
		label,
		field,
		unit = '',
		frameRate,
		digits = 3,
		step = 1,
		min = -1e9,
		max = 1e9,
		disabled = false,
		keysSame = false,
		mixed = false,
		oneach,
		class: extra = '',
		onpreview,
		oncommit,
		oncancel,
	}: Props = $props();

	const units = $derived(unitsFor(frameRate === undefined ? unit : 'f', frameRate));
	const unitNames = $derived(
		Object.keys(units).length > 1 ? `; units: ${Object.keys(units).join(', ')}` : '',
	);

	let input: HTMLInputElement;
	let typed = $state<string | null>(null);
	let wrong = $state(false);
	let scrub: { x: number; from: number; moved: boolean } | null = null;

	/** What a drag across the field has come to. */
	let scrubbed = $state<number | null>(null);

	const signed = (v: number) => `${v < 0 ? '' : '+'}${writeNumber(v, digits)}${unit}`;
	const shown = $derived.by(() => {
		if (typed !== null) return typed;
		if (mixed) return scrubbed === null ? 'mixed' : signed(scrubbed - value);
		return `${writeNumber(scrubbed ?? value, digits)}${unit}`;
	});
	const within = (v: number) => Math.min(max, Math.max(min, v));

	/** What is being typed comes to, where that is more than its text; told beside the field. */
	const told = $derived.by(() => {
		if (typed === null || typed.trim() === '' || typed.trim() === entered || !isComputed(typed)) return null;
		const read = readNumber(typed, value, units);
		if (read === null) return '= ?';
		// Of each another number comes.
		return mixed ? 'each' : `= ${writeNumber(within(read), digits)}${unit}`;
	});
	let tip = $state<HTMLElement>();
	$effect(() => {
		if (!tip) return;
		const { right, top, height } = input.getBoundingClientRect();
		tip.style.left = `${Math.min(right + 6, window.innerWidth - 90)}px`;
		tip.style.top = `${top + height / 2 - 11}px`;
		// In the top layer nothing hides it, and no dialog moves it.
		tip.showPopover();
	});

	/** What stood in the field when it was entered: rounded, so as a text it is no change. */
	let entered = $state('');

	function accept(isEnter = false) {
		if (typed === null) return;
		const isSame = typed.trim() === entered;
		const read = isSame ? value : readNumber(typed, value, units);
		wrong = read === null;
		if (read === null) return;
		const text = typed;
		typed = null;
		// The field may stay in hand: what is typed next is compared with this.
		entered = mixed && isSame ? '' : writeNumber(within(read), digits);
		if (oneach) {
			if (!isSame) oneach((old) => within(readNumber(text, old, units) ?? old));
		} else if (within(read) !== value || (isEnter && keysSame)) oncommit(within(read));
	}
	function enter() {
		entered = mixed ? '' : writeNumber(value, digits);
		typed = entered;
	}
	function commitChange(to: number) {
		if (oneach) oneach((old) => within(old + to - value));
		else oncommit(within(to));
	}

	function onkeydown(event: KeyboardEvent) {
		if (event.key === 'Enter') {
			typed ??= entered;
			accept(true);
			if (wrong) event.preventDefault();
			else input.select();
		} else if (event.key === 'Escape') {
			// What was typed goes first, then the dialog that it stands in.
			const hasTyped = typed !== null && typed.trim() !== entered;
			const inDialog = input.closest('[role="dialog"]') !== null;
			typed = inDialog ? entered : null;
			wrong = false;
			if (!inDialog) input.blur();
			if (hasTyped || !inDialog) event.stopPropagation();
		} else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
			const sign = event.key === 'ArrowUp' ? 1 : -1;
			typed = null;
			commitChange(value + sign * step * (event.shiftKey ? 10 : 1));
			event.preventDefault();
		}
	}

	function onpointerdown(event: PointerEvent) {
		if (event.button !== 0 || document.activeElement === input || disabled) return;
		scrub = { x: event.clientX, from: value, moved: false };
		input.setPointerCapture(event.pointerId);
		event.preventDefault();
	}

	function onpointermove(event: PointerEvent) {
		if (!scrub) return;
		const dx = event.clientX - scrub.x;
		if (!scrub.moved && Math.abs(dx) < 3) return;
		scrub.moved = true;
		const fine = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
		scrubbed = within(Number((scrub.from + Math.round(dx) * step * fine).toPrecision(12)));
		onpreview?.(scrubbed);
	}

	function onpointerup() {
		if (!scrub) return;
		const { moved } = scrub;
		scrub = null;
		if (moved) {
			const now = scrubbed ?? value;
			scrubbed = null;
			commitChange(now);
		} else {
			input.focus();
			input.select();
		}
	}

	function onpointercancel() {
		scrub = null;
		scrubbed = null;
		oncancel?.();
	}
</script>

<input
	bind:this={input}
	type="text"
	inputmode="decimal"
	autocomplete="off"
	spellcheck="false"
	aria-label={label}
	data-field={field}
	aria-invalid={wrong}
	data-settled={typed === null ? '' : undefined}
	title={wrong ? `Type a number, a sum, or a change such as +=2, *=1.5, -=10%${unitNames}` : undefined}
	{disabled}
	value={shown}
	class="field cursor-ew-resize touch-pan-y truncate text-right font-mono text-xs focus:cursor-text aria-invalid:border-rust {extra}"
	oninput={(event) => {
		typed = event.currentTarget.value;
		wrong = false;
	}}
	onfocus={() => {
		enter();
		// Without its unit the text is another: what Tab had picked is picked again.
		void tick().then(() => {
			if (document.activeElement === input) input.select();
		});
	}}
	onblur={() => {
		accept();
		if (wrong)
			toast.error(`“${typed}” is no number for ${label}`, {
				description: mixed ? 'All stay as they are.' : `It stays ${writeNumber(value, digits)}${unit}.`,
			});
		typed = null;
		wrong = false;
	}}
	{onkeydown}
	{onpointerdown}
	{onpointermove}
	{onpointerup}
	{onpointercancel}
/>
{#if told !== null}
	<span
		bind:this={tip}
		popover="manual"
		role="status"
		class="fixed m-0 rounded border border-rule bg-ink px-1.5 font-mono text-xs leading-[22px] text-paper"
		data-told>{told}</span
	>
{/if}

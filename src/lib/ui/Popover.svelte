<script lang="ts">
	import { Popover } from 'bits-ui';
	import type { Snippet } from 'svelte';

	interface Props {
		/** What the button is called where it shows no words. */
		label: string;
		title?: string;
		disabled?: boolean;
		/** Its id, for commands. */
		field?: string;
		open?: boolean;
		/** Classes of the button, and of what opens. */
		class?: string;
		contentClass?: string;
		align?: 'start' | 'end';
		/** What the button shows. */
		trigger: Snippet;
		children: Snippet;
	}
	/**
	 * A button and what opens above it. It lies beside the work and not over it: whoever clicks a field elsewhere is in
	 * that field, so the focus is never held here.
	 */
	let {
		label,
		title,
		disabled = false,
		field,
		open = $bindable(false),
		class: buttonClass = '',
		contentClass = '',
		align = 'end',
		trigger,
		children,
	}: Props = $props();

	/** A field may keep a press to itself, so the focus that arrives there counts as well. */
	function onfocusin({ target }: FocusEvent) {
		if (open && content && target instanceof Node && !content.contains(target) && !button?.contains(target))
			open = false;
	}
	/** Escape closes this, and means nothing to the work beside it. */
	function onkeydown(event: KeyboardEvent) {
		if (!open || event.key !== 'Escape') return;
		event.stopPropagation();
		open = false;
		button?.focus();
	}
	let content = $state<HTMLElement | null>(null);
	let button = $state<HTMLElement | null>(null);
</script>

<svelte:document {onfocusin} />

<Popover.Root bind:open>
	<Popover.Trigger
		bind:ref={button}
		class={buttonClass}
		aria-label={label}
		data-field={field}
		{title}
		{disabled}
		{onkeydown}
	>
		{@render trigger()}
	</Popover.Trigger>
	<Popover.Portal>
		<Popover.Content
			bind:ref={content}
			class="menu {contentClass}"
			side="top"
			{align}
			sideOffset={6}
			trapFocus={false}
			{onkeydown}
			onCloseAutoFocus={(event) => {
				event.preventDefault();
				// Back to the button, whatever opened it, unless the focus has been taken elsewhere.
				const { activeElement } = document;
				if (activeElement === document.body || content?.contains(activeElement)) button?.focus();
			}}
		>
			{@render children()}
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>

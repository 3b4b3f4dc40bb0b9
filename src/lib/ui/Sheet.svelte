<script lang="ts">
	import { Dialog } from 'bits-ui';
	import { tick, type Snippet } from 'svelte';

	interface Props {
		open: boolean;
		title: string;
		/** What it is for, in a sentence. */
		about: string;
		/** Tailwind class of its width. */
		width?: string;
		children: Snippet;
		/** What stands at the left of the last row, and after the button that closes. */
		aside?: Snippet;
		actions?: Snippet;
		/** What the button that closes says. */
		closing?: string;
		/** While keys are waited for, Escape is one of them. */
		staysOnEscape?: boolean;
	}
	/** A dialog: title, what it is for, content, and a row of buttons. */
	let {
		open = $bindable(),
		title,
		about,
		width = 'w-[480px]',
		children,
		aside,
		actions,
		closing = 'Cancel',
		staysOnEscape = false,
	}: Props = $props();

	/** The second press of a double click, which would close at once what the first has opened. */
	const DOUBLE_CLICK = 400;
	let openedAt = 0;

	/** Enter in a field of one line does what the dialog is for. */
	async function submit(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		if (event.key !== 'Enter' || event.defaultPrevented || !target.matches('input:not([type="checkbox"])'))
			return;
		event.preventDefault();
		const main = (event.currentTarget as HTMLElement).querySelector<HTMLButtonElement>(
			'[data-actions] .btn-main',
		);
		await tick();
		if (main && !main.disabled) main.click();
	}
	/** What had the focus before: a field of the content may take it before the dialog looks. */
	let before: Element | null = null;
	$effect.pre(() => {
		if (!open) return;
		openedAt = performance.now();
		before = document.activeElement;
	});
</script>

<Dialog.Root bind:open>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
		<Dialog.Content
			class="fixed left-1/2 top-1/2 z-50 flex max-h-[94vh] {width} max-w-[97vw] -translate-x-1/2 -translate-y-1/2 flex-col overflow-y-auto rounded-xl border border-rule bg-paper p-5"
			onkeydown={submit}
			onCloseAutoFocus={(event) => {
				event.preventDefault();
				if (before instanceof HTMLElement && before.isConnected) before.focus();
			}}
			escapeKeydownBehavior={staysOnEscape ? 'ignore' : 'close'}
			onInteractOutside={(event) => {
				if (performance.now() - openedAt < DOUBLE_CLICK) event.preventDefault();
			}}
		>
			<Dialog.Title class="text-base font-bold">{title}</Dialog.Title>
			<Dialog.Description class="text-muted">{about}</Dialog.Description>
			{@render children()}
			<div class="mt-4 flex gap-2" data-actions>
				{@render aside?.()}
				<span class="flex-1"></span>
				<Dialog.Close class="btn">{closing}</Dialog.Close>
				{@render actions?.()}
			</div>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>

<script lang="ts">
	interface Props {
		label: string;
		/** Whether there is a key now. */
		keyed: boolean;
		/** Whether there are keys at all. */
		moves?: boolean;
		disabled?: boolean;
		title?: string;
		onclick: () => void;
	}
	/** Sets and deletes a key: a dot, full where there is one. */
	let { label, keyed, moves = false, disabled = false, title, onclick }: Props = $props();
</script>

<button type="button" class="target" aria-label={label} aria-pressed={keyed} {disabled} {title} {onclick}>
	<span
		class="size-[15px] rounded-full border-[1.5px] {keyed
			? 'border-lake bg-lake'
			: moves
				? 'border-lake'
				: 'border-edge'}"
	></span>
</button>

<script lang="ts">
	import { sentence } from '$lib/ui/sentence';

	interface Props {
		label: string;
		title: string;
		on: boolean;
		onclick: () => void;
	}
	let { label, title, on, onclick }: Props = $props();
</script>

<button
	type="button"
	class="min-h-[24px] rounded-md border px-2 text-xs {on
		? 'border-moss bg-sheet font-semibold'
		: 'border-rule bg-paper text-muted'}"
	aria-pressed={on}
	{title}
	{onclick}>{sentence(label)}</button
>

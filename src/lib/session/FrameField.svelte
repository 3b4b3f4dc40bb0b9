<script lang="ts">
	import type { ComponentProps } from 'svelte';
	import { useSession } from './session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';

	/** A number of frames of the open project; seconds and milliseconds may be typed too. */
	let { unit = ' f', digits = 1, ...rest }: ComponentProps<typeof NumberField> = $props();
	const session = useSession();
</script>

<NumberField {unit} {digits} {...rest} frameRate={session.frameRate} />

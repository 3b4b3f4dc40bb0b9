<script lang="ts">
	import NumberField from '$lib/ui/NumberField.svelte';
	import type { ShipState } from './ship-state.svelte';

	/** The bound of a path of one part, or, as a share of each range, of all its paths; 0 is as for all. */
	let { ship, part, path, label }: { ship: ShipState; part: string; path: string | null; label: string } =
		$props();

	const value = $derived(ship.parts.of(part, path));
	/** Shares are told in percent. */
	const factor = $derived(path === null ? 100 : 1);
</script>

<NumberField
	{label}
	value={Number((value * factor).toPrecision(9))}
	unit={path === null ? ' %' : ship.unitOf(path)}
	digits={4}
	min={0}
	max={path === null ? 100 : 1e6}
	step={path === null ? 0.01 : 0.001}
	class="w-[84px]"
	oncommit={(told) => ship.parts.choose({ part, path, value: told / factor })}
/>

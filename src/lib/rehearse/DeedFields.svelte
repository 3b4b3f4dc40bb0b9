<script lang="ts">
	import { toast } from 'svelte-sonner';
	import type { TriggerDeed } from '$core/document/triggers';
	import { inOrder } from '$core/document/types';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { without } from './trigger-choices';

	/** What a trigger does, as fields. */
	let { then, onchange }: { then: TriggerDeed; onchange: (then: TriggerDeed) => void } = $props();
	const session = useSession();
	/** All that is played by its name. */
	const clips = $derived([...session.project.clips, ...inOrder(session.doc.mixes)]);
	const layers = $derived(inOrder(session.doc.layers));
	const narrow = 'field !min-h-[24px] max-w-[140px]';

	const rounds = (count: number | null | undefined) =>
		count === undefined ? 'own' : count === null ? 'ever' : 'count';
	function setRounds(choice: string) {
		if (then.kind !== 'play') return;
		onchange(choice === 'own' ? without(then, 'count') : { ...then, count: choice === 'ever' ? null : 1 });
	}
	function setPayload(text: string) {
		if (then.kind !== 'tell') return;
		try {
			onchange({ ...then, payload: text.trim() === '' ? null : (JSON.parse(text) as unknown) });
		} catch {
			toast.error('This payload is no JSON', { description: 'Such as 3, "splash" or {"volume": 0.5}.' });
		}
	}
</script>

{#if 'clip' in then}
	<select
		class={narrow}
		aria-label="clip that plays"
		value={then.clip}
		onchange={(event) => onchange({ ...then, clip: event.currentTarget.value })}
	>
		{#each clips as clip (clip.id)}<option value={clip.id}>{clip.name}</option>{/each}
	</select>
{/if}
{#if then.kind === 'play'}
	<select
		class="field !min-h-[24px]"
		aria-label="rounds"
		value={rounds(then.count)}
		onchange={(event) => setRounds(event.currentTarget.value)}
	>
		<option value="own">as it loops</option>
		<option value="ever">for ever</option>
		<option value="count">so many times</option>
	</select>
	{#if typeof then.count === 'number'}
		<NumberField
			label="times"
			value={then.count}
			digits={0}
			min={1}
			max={10000}
			class="w-[52px] !min-h-[24px]"
			oncommit={(count) => onchange({ ...then, count: Math.round(count) })}
		/>
	{/if}
	<label class="flex min-h-[24px] items-center gap-1"
		><input
			type="checkbox"
			class="size-[16px] accent-moss"
			checked={then.queued ?? false}
			onchange={(event) =>
				onchange(event.currentTarget.checked ? { ...then, queued: true } : without(then, 'queued'))}
		/>when what plays has ended</label
	>
{:else if then.kind === 'toggle'}
	<span class="text-muted">and</span>
	<select
		class={narrow}
		aria-label="other clip"
		value={then.other ?? ''}
		onchange={(event) => onchange({ ...then, other: event.currentTarget.value || null })}
	>
		<option value="">the end of its round</option>
		{#each clips as clip (clip.id)}<option value={clip.id}>{clip.name}</option>{/each}
	</select>
{:else if then.kind === 'stop'}
	<select
		class="field !min-h-[24px]"
		aria-label="how it stops"
		value={then.withRound ? 'round' : 'fade'}
		onchange={(event) =>
			onchange(
				event.currentTarget.value === 'round' ? { ...then, withRound: true } : without(then, 'withRound'),
			)}
	>
		<option value="fade">over</option>
		<option value="round">at the end of the round</option>
	</select>
{:else if then.kind === 'tell'}
	<input
		class="field !min-h-[24px] w-[100px]"
		aria-label="message"
		maxlength="120"
		value={then.name}
		onchange={(event) => onchange({ ...then, name: event.currentTarget.value.trim() || then.name })}
	/>
	<input
		class="field !min-h-[24px] w-[130px] font-mono"
		aria-label="payload, as JSON"
		placeholder="no payload"
		value={then.payload === null ? '' : JSON.stringify(then.payload)}
		onchange={(event) => setPayload(event.currentTarget.value)}
	/>
{/if}
{#if then.kind === 'weigh'}
	<select
		class={narrow}
		aria-label="layer"
		value={then.layer}
		onchange={(event) => onchange({ ...then, layer: event.currentTarget.value })}
	>
		{#each layers as layer (layer.id)}<option value={layer.id}>{layer.name}</option>{/each}
	</select>
	<span class="text-muted">to</span>
	<NumberField
		label="weight"
		value={then.weight}
		step={0.05}
		min={0}
		max={1}
		class="w-[52px] !min-h-[24px]"
		oncommit={(weight) => onchange({ ...then, weight })}
	/>
{:else if 'layer' in then}
	<span class="text-muted">in</span>
	<select
		class={narrow}
		aria-label="layer"
		value={then.layer ?? ''}
		onchange={(event) => onchange({ ...then, layer: event.currentTarget.value || null })}
	>
		<option value="">no layer</option>
		{#each layers as layer (layer.id)}<option value={layer.id}>{layer.name}</option>{/each}
	</select>
{/if}
{#if then.kind === 'weigh' || (then.kind === 'stop' && !then.withRound)}
	{#if then.kind === 'weigh'}<span class="text-muted">over</span>{/if}
	<NumberField
		label="seconds that it takes"
		value={then.seconds}
		unit=" s"
		step={0.05}
		min={0}
		max={60}
		class="w-[58px] !min-h-[24px]"
		oncommit={(seconds) => onchange({ ...then, seconds })}
	/>
{/if}

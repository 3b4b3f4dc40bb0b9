<script lang="ts">
	import { keyWord } from '$core/document/trigger-words';
	import type { Trigger, TriggerDeed, TriggerMoment } from '$core/document/triggers';
	import { cuesOfClip, inOrder } from '$core/document/types';
	import { changeIn, putTrigger } from '$core/edits/triggers';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import DeedFields from './DeedFields.svelte';
	import { keyOf, STICK } from './inputs';
	import { DEED_WORDS, MOMENT_WORDS, newDeed, newMoment } from './trigger-choices';

	/** A trigger's sentence as fields, in the order in which it reads. */
	let { trigger }: { trigger: Trigger } = $props();
	const session = useSession();
	const when = $derived(trigger.when);
	const clips = $derived(session.project.clips);
	const parts = $derived(session.project.tree.map(({ part }) => part));
	const cueNames = $derived(
		when.kind === 'cue'
			? [...new Set([when.cue, ...cuesOfClip(session.doc, when.clip).map(({ name }) => name)])]
			: [],
	);
	const parameters = $derived([
		...new Set([
			...STICK,
			...Object.values(session.doc.triggers).flatMap((own) =>
				own.when.kind === 'parameter' ? own.when.name : [],
			),
			...inOrder(session.doc.layers).flatMap(({ parameter }) => parameter ?? []),
			...inOrder(session.doc.mixes).map(({ parameter }) => parameter),
		]),
	]);

	function change(changed: Partial<Pick<Trigger, 'when' | 'then' | 'delay'>>) {
		session.edit('Change trigger', (doc) => changeIn(doc, { ...trigger, ...changed }, putTrigger));
	}
	const setWhen = (next: TriggerMoment) => change({ when: next });
	function chooseMoment(kind: TriggerMoment['kind']) {
		const next = newMoment(session.doc, kind, 'part' in when ? when.part : session.selection.partId);
		if (next) setWhen(next);
	}
	function chooseDeed(kind: TriggerDeed['kind']) {
		const next = newDeed(session.doc, kind, trigger.then);
		if (next) change({ then: next });
	}
	const canBe = (kind: TriggerMoment['kind']) => newMoment(session.doc, kind, null) !== null;
	/** A name may be typed; what is empty stays as it was. */
	const named = (event: Event & { currentTarget: HTMLInputElement }, before: string) =>
		(event.currentTarget.value = event.currentTarget.value.trim() || before);
</script>

<div class="flex flex-wrap items-center gap-1" data-trigger-editor>
	<span class="text-muted">When</span>
	<select
		class="field !min-h-[24px]"
		aria-label="when"
		value={when.kind}
		onchange={(event) => chooseMoment(event.currentTarget.value as TriggerMoment['kind'])}
	>
		{#each MOMENT_WORDS as { kind, word } (kind)}<option value={kind} disabled={!canBe(kind)}>{word}</option
			>{/each}
	</select>
	{#if when.kind === 'call'}
		<input
			class="field !min-h-[24px] w-[110px]"
			aria-label="name that code calls"
			maxlength="120"
			value={when.name}
			onchange={(event) => setWhen({ ...when, name: named(event, when.name) })}
		/>
	{:else if 'part' in when}
		<select
			class="field !min-h-[24px] max-w-[130px]"
			aria-label="part"
			value={when.part}
			onchange={(event) => setWhen({ ...when, part: event.currentTarget.value })}
		>
			{#each parts as part (part.id)}<option value={part.id}>{part.name}</option>{/each}
		</select>
	{:else if when.kind === 'key'}
		<input
			class="field !min-h-[24px] w-[90px] font-mono"
			aria-label="key: press it"
			readonly
			value={keyWord(when.key)}
			title="Press the key here"
			onkeydown={(event) => {
				if (['Tab', 'Shift', 'Control', 'Alt', 'Meta', 'Escape'].includes(event.key)) return;
				event.preventDefault();
				event.stopPropagation();
				setWhen({ kind: 'key', key: keyOf(event) });
			}}
		/>
	{:else if when.kind === 'button'}
		<NumberField
			label="pad button"
			value={when.button + 1}
			digits={0}
			min={1}
			max={32}
			class="w-[50px] !min-h-[24px]"
			oncommit={(button) => setWhen({ kind: 'button', button: Math.round(button) - 1 })}
		/>
	{:else if when.kind === 'parameter'}
		<input
			class="field !min-h-[24px] w-[90px]"
			aria-label="parameter"
			list="trigger-parameters"
			maxlength="120"
			value={when.name}
			onchange={(event) => setWhen({ ...when, name: named(event, when.name) })}
		/>
		<datalist id="trigger-parameters">
			{#each parameters as name (name)}<option value={name}></option>{/each}
		</datalist>
		<select
			class="field !min-h-[24px]"
			aria-label="above or below"
			value={when.way}
			onchange={(event) => setWhen({ ...when, way: event.currentTarget.value as 'above' | 'below' })}
		>
			<option value="above">above</option>
			<option value="below">below</option>
		</select>
		<NumberField
			label="value that it goes past"
			value={when.value}
			step={0.05}
			class="w-[56px] !min-h-[24px]"
			oncommit={(value) => setWhen({ ...when, value })}
		/>
	{:else if 'clip' in when}
		<select
			class="field !min-h-[24px] max-w-[140px]"
			aria-label="clip whose moment it is"
			value={when.clip}
			onchange={(event) => {
				const clip = event.currentTarget.value;
				if (when.kind === 'end') setWhen({ ...when, clip });
				else setWhen({ ...when, clip, cue: cuesOfClip(session.doc, clip)[0]?.name ?? when.cue });
			}}
		>
			{#each clips as clip (clip.id)}<option value={clip.id}>{clip.name}</option>{/each}
		</select>
		{#if when.kind === 'cue'}
			<select
				class="field !min-h-[24px] max-w-[120px]"
				aria-label="cue"
				value={when.cue}
				onchange={(event) => setWhen({ ...when, cue: event.currentTarget.value })}
			>
				{#each cueNames as name (name)}<option value={name}>{name}</option>{/each}
			</select>
		{/if}
	{/if}
	<span class="text-muted">→ after</span>
	<NumberField
		label="delay"
		value={trigger.delay}
		unit=" s"
		step={0.05}
		min={0}
		max={600}
		class="w-[58px] !min-h-[24px]"
		oncommit={(delay) => change({ delay })}
	/>
	<select
		class="field !min-h-[24px]"
		aria-label="what happens"
		value={trigger.then.kind}
		onchange={(event) => chooseDeed(event.currentTarget.value as TriggerDeed['kind'])}
	>
		{#each DEED_WORDS as { kind, word } (kind)}<option
				value={kind}
				disabled={newDeed(session.doc, kind, null) === null}>{word}</option
			>{/each}
	</select>
	<DeedFields then={trigger.then} onchange={(then) => change({ then })} />
</div>

<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import { NOWHERE, SEVERAL, type LayWork } from '$lib/acts/lay-work.svelte';
	import { takeWorkOf } from '$lib/acts/take-work.svelte';
	import type { Field } from '$lib/session/fields';
	import FrameField from '$lib/session/FrameField.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import ChannelPicker from './ChannelPicker.svelte';

	/** What goes where while a take is laid on other parts; the stage shows it. */
	let { work }: { work: LayWork } = $props();
	const session = useSession();
	onMount(() => () => work.leave());

	const take = $derived(work.take);
	/** Parts of which each channel is laid by itself: at first those whose numbers nothing else has. */
	let opened = $derived(
		new Set(take?.columns.flatMap(({ part, property }) => (property === 'custom' ? [part] : []))),
	);
	const frames = (ticks: number) => ticksToFrame(ticks, session.frameRate);
	const rows = $derived(
		work.parts.map(({ id: part, name }) => {
			const columns = take!.columns.flatMap((column, index) =>
				column.part === part ? [{ column, index }] : [],
			);
			return { part, name, columns, target: work.targetOf(part) };
		}),
	);
	const laid = $derived(work.chosen.length);
	const selected = $derived(session.selection.partId);
	const percent = (share: number) => `${writeNumber(100 * share, share < 0.1 ? 1 : 0)} %`;

	function toggle(part: string) {
		const next = new Set(opened);
		if (!next.delete(part)) next.add(part);
		opened = next;
	}
	/** Another edit has taken away what was shown, or another clip is open: from a file it is laid in that. */
	$effect(() => {
		const { clipId } = session;
		const isShown = session.project.isDragging;
		untrack(() => {
			if (work.clip !== clipId) work.leave();
			else if (!isShown || work.brought.length > 0) work.show();
		});
	});
	async function put() {
		const id = await work.put();
		if (id === null) return;
		const { clip } = session.doc.takes[id];
		if (clip !== session.clipId) await goto(`/p/${session.project.id}/compose/${clip}`, { noScroll: true });
		void takeWorkOf(session).open(id);
	}
</script>

<div class="flex flex-col gap-1.5" role="group" aria-label="lay the take">
	<h2 class="sheet-title">Lay {take?.name} on parts</h2>
	{#if work.brought.length > 1}
		<Labelled text="recording">
			<select
				class="field min-w-0 flex-1 !min-h-[24px]"
				aria-label="recording of the file"
				value={take?.id}
				onchange={(event) => work.chooseTake(event.currentTarget.value)}
			>
				{#each work.brought as { take: other } (other.id)}<option value={other.id}>{other.name}</option
					>{/each}
			</select>
		</Labelled>
	{/if}
	<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
		<button
			type="button"
			class="btn !min-h-[24px]"
			title="Each part on the one whose name is most like its own"
			data-field={'take-lay' satisfies Field}
			onclick={() => work.match()}>Match by name</button
		>
		<label class="flex items-center gap-1.5" title="What was done left is done right">
			<input
				type="checkbox"
				checked={work.mirrored}
				onchange={(event) => work.setMirrored(event.currentTarget.checked)}
			/> Mirrored
		</label>
		{#if work.isOtherSpace}
			<label class="flex items-center gap-1.5" title="It was recorded where y runs the other way">
				<input
					type="checkbox"
					checked={work.turnsOver}
					onchange={(event) => {
						work.turnsOver = event.currentTarget.checked;
						work.match();
					}}
				/> Turn y over
			</label>
		{/if}
		<Labelled text="lengths ×">
			<NumberField
				label="what lengths are multiplied by"
				value={work.scale}
				digits={3}
				step={0.01}
				min={-1000}
				max={1000}
				class="w-[64px] !min-h-[24px]"
				onpreview={(v) => {
					work.scale = v;
					work.show();
				}}
				oncommit={(v) => {
					work.scale = v;
					work.show();
				}}
			/>
		</Labelled>
		<Labelled text="places">
			<select
				class="field !min-h-[24px]"
				aria-label="places"
				value={work.fromRest ? 'rest' : 'recorded'}
				onchange={(event) => {
					work.fromRest = event.currentTarget.value === 'rest';
					work.show();
				}}
			>
				<option value="recorded">as recorded</option>
				<option value="rest">from where each part rests</option>
			</select>
		</Labelled>
	</div>
	<div class="flex flex-wrap items-center gap-x-3 gap-y-1">
		<select
			class="field !min-h-[24px]"
			aria-label="how much is laid"
			value={work.round === null ? '' : String(work.round)}
			onchange={({ currentTarget: { value } }) => work.chooseRound(value === '' ? null : Number(value))}
		>
			<option value="">The whole take</option>
			{#each work.rounds as { from, to, pose, speed }, i (i)}
				<option value={String(i)}
					>One round: frame {writeNumber(frames(from), 0)} → {writeNumber(frames(to), 0)} (pose {percent(
						pose,
					)}
					apart, speed {percent(speed)})</option
				>
			{/each}
		</select>
		{#if work.round === null && take}
			<Labelled text="from">
				<FrameField
					label="frame where it begins"
					value={frames(work.at)}
					digits={1}
					min={0}
					class="w-[64px] !min-h-[24px]"
					oncommit={(v) => {
						work.at = frameToTicks(v, session.frameRate);
						work.show();
					}}
				/>
			</Labelled>
			<Labelled text="lasts">
				<FrameField
					label="how long it lasts"
					value={frames((take.to - take.from) * work.slower)}
					digits={1}
					min={1}
					class="w-[64px] !min-h-[24px]"
					oncommit={(v) => {
						work.slower = frameToTicks(v, session.frameRate) / (take.to - take.from);
						work.show();
					}}
				/>
			</Labelled>
		{:else if work.changed !== null}
			<span class="text-muted">
				Becomes a clip that goes round; closing it changes what moves by {percent(work.changed)} at most.
			</span>
		{/if}
	</div>
	<!-- Long of a skeleton: it scrolls by itself, by keys too. -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<ul
		class="flex max-h-[170px] flex-col gap-1 overflow-y-auto"
		aria-label="what is laid on what"
		tabindex="0"
	>
		{#each rows as { part, name, columns, target } (part)}
			<li class="flex flex-col gap-1">
				<div class="flex items-center gap-2">
					<button
						type="button"
						class="btn !min-h-[24px] w-[150px] truncate text-left"
						aria-expanded={opened.has(part)}
						title="Each channel of {name} by itself"
						onclick={() => toggle(part)}>{name} <span class="text-muted">{columns.length}</span></button
					>
					<span class="text-muted">on</span>
					<select
						class="field min-w-0 flex-1 !min-h-[24px]"
						aria-label="part that {name} is laid on"
						value={target}
						onchange={(event) => work.layPart(part, event.currentTarget.value)}
					>
						<option value={NOWHERE}>nothing</option>
						{#if target === SEVERAL}<option value={SEVERAL}>several parts</option>{/if}
						{#each session.project.tree as { part: other, depth } (other.id)}
							<option value={other.id}>{'\u2003'.repeat(depth)}{other.name}</option>
						{/each}
					</select>
					{#if selected !== null}
						<button
							type="button"
							class="btn !min-h-[24px]"
							title="Its channels, one after the other, on the numbers of the part in hand: x, y, z and so on"
							onclick={() => work.layInOrder(part, selected)}>In order</button
						>
					{/if}
				</div>
				{#if opened.has(part)}
					{#each columns as { column, index } (index)}
						{@const label = work.labelOf(column)}
						<div class="flex items-center gap-2 pl-4">
							<span class="w-[134px] shrink-0 truncate" title={label}>{label}</span>
							<span class="text-muted">on</span>
							<span class="min-w-0 flex-1">
								{#if column.index === undefined}
									<ChannelPicker
										label="number that {label} is laid on"
										value={work.columns[index]?.on ?? null}
										none="nothing"
										onpick={(on) => work.layColumn(index, on)}
									/>{:else}<span class="text-muted">with its part</span>{/if}
							</span>
							{#if work.columns[index] && column.index === undefined}
								<Labelled text="×">
									<NumberField
										label="what {label} is multiplied by"
										value={work.columns[index]!.factor}
										digits={4}
										step={0.01}
										min={-1e6}
										max={1e6}
										class="w-[64px] !min-h-[24px]"
										oncommit={(v) => work.setFactor(index, v)}
									/>
								</Labelled>
							{/if}
						</div>
					{/each}
				{/if}
			</li>
		{/each}
	</ul>
	<div class="flex flex-wrap items-center gap-2">
		<button
			type="button"
			class="btn !min-h-[24px]"
			disabled={work.why !== null || work.isPutting}
			title={work.why ?? 'Another take, with its keys; this one stays'}
			onclick={() => void put()}>{work.isPutting ? 'Laying …' : 'Lay it'}</button
		>
		<button type="button" class="btn !min-h-[24px]" onclick={() => work.leave()}>Leave it</button>
		<span class="text-muted" role="status"
			>{work.why ?? `${laid} of ${take?.columns.length ?? 0} channels are laid`}</span
		>
	</div>
	{#if work.leftOut.length > 0}<p class="text-muted">Left out: {work.leftOut.slice(0, 6).join('; ')}.</p>{/if}
</div>

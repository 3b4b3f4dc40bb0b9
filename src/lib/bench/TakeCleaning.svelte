<script lang="ts">
	import { SMOOTHINGS, type Smoothing } from '$core/document/takes';
	import { columnLabel } from '$core/document/labels';
	import { unitAt } from '$core/document/units';
	import { LEAST_TOLERANCE, MOST_TOLERANCE } from '$core/takes/key-counts';
	import { frameToTicks, ticksToFrame } from '$core/time';
	import type { TakeWork } from '$lib/acts/take-work.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import { layColumn } from '$lib/acts/takes';
	import ChannelPicker from './ChannelPicker.svelte';
	import KeyCounts from './KeyCounts.svelte';

	/** How keys are made of the open take, live while it is dragged. */
	let { work }: { work: TakeWork } = $props();
	const session = useSession();
	const cleaning = $derived(work.cleaning);
	const take = $derived(work.take);
	/** Of a skeleton not each channel is told here. */
	const MOST_TOLD = 3;
	/** Gaps of a quarter of a second are bridged at first. */
	const BRIDGE = 18_000;
	const MOST_BRIDGE = 720_000;
	const WORDS: Record<Smoothing, string> = {
		none: 'none',
		even: 'over frames',
		steady: 'steady where it rests',
	};
	const digits = (v: number) => writeNumber(v, v !== 0 && Math.abs(v) < 0.01 ? 4 : 2);
	const rows = $derived(
		take === null
			? []
			: work.cleaned.map(({ figures }, i) => {
					const column = take.columns[i];
					const unit = unitAt(session.doc, column);
					return {
						column,
						name: columnLabel(session.doc, column),
						figures,
						unit,
					};
				}),
	);
	const keys = $derived(rows.reduce((all, { figures }) => all + figures.keys, 0));
	const samples = $derived(rows.reduce((all, { figures }) => all + figures.samples, 0));
	const spikes = $derived(rows.reduce((all, { figures }) => all + figures.spikes, 0));
	const gaps = $derived(
		work.cleaned.reduce((all, { stretches }) => all + Math.max(0, stretches.length - 1), 0),
	);
	const holds = $derived(rows.reduce((all, { figures }) => all + figures.holds, 0));
	/** The slider goes by ratios. */
	const RATIO = Math.log(MOST_TOLERANCE / LEAST_TOLERANCE);
	const place = (tolerance: number) => (1000 * Math.log(tolerance / LEAST_TOLERANCE)) / RATIO;
	const toleranceAt = (at: number) => LEAST_TOLERANCE * Math.exp((RATIO * at) / 1000);
	const percent = (share: number) => 100 * share;
</script>

{#snippet share(
	label: string,
	member: 'most' | 'stillness' | 'tolerance',
	value: number,
	range: { digits: number; min: number; max: number },
)}
	<NumberField
		{label}
		value={percent(value)}
		unit=" %"
		step={0.1}
		{...range}
		class="w-[64px] !min-h-[24px]"
		onpreview={(v) => void work.preview({ [member]: v / 100 })}
		oncommit={(v) => void work.commit({ [member]: v / 100 })}
	/>
{/snippet}

{#if work.failed}
	<p class="text-rust" role="alert">{work.failed} Its keys can be edited as any.</p>
{:else if !cleaning || !work.samples}
	<p class="text-muted" aria-busy="true">Reading the samples …</p>
{:else}
	<div
		class="grid grid-cols-[auto_1fr_auto] items-center gap-x-3 gap-y-1"
		role="group"
		aria-label="clean the take"
	>
		<label class="flex items-center gap-1.5">
			<input
				type="checkbox"
				checked={cleaning.spikes}
				onchange={(event) => void work.commit({ spikes: event.currentTarget.checked })}
			/> Remove spikes
		</label>
		<span></span>
		<span class="text-right text-muted">{spikes === 1 ? '1 removed' : `${spikes} removed`}</span>

		<label class="flex items-center gap-1.5" title="Where the device was let go, or told nothing">
			<input
				type="checkbox"
				checked={(cleaning.bridge ?? 0) > 0}
				onchange={(event) => void work.commit({ bridge: event.currentTarget.checked ? BRIDGE : 0 })}
			/> Bridge gaps
		</label>
		<span class="flex items-center gap-2">
			{#if cleaning.bridge}
				<span class="text-muted">of at most</span>
				<FrameField
					label="longest gap that is bridged"
					value={ticksToFrame(cleaning.bridge, session.frameRate)}
					digits={1}
					min={0.1}
					max={ticksToFrame(MOST_BRIDGE, session.frameRate)}
					class="w-[60px] !min-h-[24px]"
					oncommit={(v) => void work.commit({ bridge: Math.max(1, frameToTicks(v, session.frameRate)) })}
				/>
			{/if}
		</span>
		<span class="text-right text-muted">{gaps === 1 ? '1 gap left' : `${gaps} gaps left`}</span>

		<span>Smooth</span>
		<span class="flex items-center gap-2">
			<select
				class="field !min-h-[24px]"
				aria-label="smoothing"
				value={cleaning.smoothing}
				onchange={(event) => void work.commit({ smoothing: event.currentTarget.value as Smoothing })}
			>
				{#each SMOOTHINGS as kind (kind)}<option value={kind}>{WORDS[kind]}</option>{/each}
			</select>
			{#if cleaning.smoothing === 'even'}
				<FrameField
					label="frames that are smoothed over"
					value={ticksToFrame(cleaning.span, session.frameRate)}
					digits={1}
					min={0.1}
					max={240}
					class="w-[60px] !min-h-[24px]"
					oncommit={(v) => void work.commit({ span: Math.max(1, frameToTicks(v, session.frameRate)) })}
				/>
			{:else if cleaning.smoothing === 'steady'}
				<input
					type="range"
					class="w-[90px] accent-[var(--moss)]"
					aria-label="steadiness"
					title="Left follows every tremble, right holds steady"
					min="0"
					max="100"
					value={percent(cleaning.steadiness)}
					oninput={(event) => void work.preview({ steadiness: Number(event.currentTarget.value) / 100 })}
					onchange={(event) => void work.commit({ steadiness: Number(event.currentTarget.value) / 100 })}
				/>
			{/if}
			{#if cleaning.smoothing !== 'none'}
				<span class="text-muted">by at most</span>
				{@render share('most that smoothing changes', 'most', cleaning.most, { digits: 1, min: 0, max: 100 })}
			{/if}
		</span>
		<span class="text-right text-muted">
			{#if cleaning.smoothing !== 'none'}changed {rows
					.slice(0, MOST_TOLD)
					.map(({ figures, unit }) => `${digits(figures.smoothed)}${unit}`)
					.join(', ')}{rows.length > MOST_TOLD ? ' …' : ''}{/if}
		</span>

		<label class="flex items-center gap-1.5">
			<input
				type="checkbox"
				checked={cleaning.stillness > 0}
				onchange={(event) => void work.commit({ stillness: event.currentTarget.checked ? 0.01 : 0 })}
			/> Hold where still
		</label>
		<span class="flex items-center gap-2">
			{#if cleaning.stillness > 0}
				<span class="text-muted">within</span>
				{@render share('stillness', 'stillness', cleaning.stillness, { digits: 2, min: 0.01, max: 50 })}
			{/if}
		</span>
		<span class="text-right text-muted">{holds === 1 ? '1 hold' : `${holds} holds`}</span>

		<span>Fewer keys</span>
		<span class="flex items-center gap-2">
			<input
				type="range"
				class="min-w-[90px] flex-1 accent-[var(--moss)]"
				aria-label="tolerance"
				title="Left more keys and nearer, right fewer"
				min="0"
				max="1000"
				data-field="take-tolerance"
				value={place(cleaning.tolerance)}
				oninput={(event) => void work.preview({ tolerance: toleranceAt(Number(event.currentTarget.value)) })}
				onchange={(event) => void work.commit({ tolerance: toleranceAt(Number(event.currentTarget.value)) })}
			/>
			{@render share('tolerance in percent', 'tolerance', cleaning.tolerance, {
				digits: 2,
				min: 100 * LEAST_TOLERANCE,
				max: 100 * MOST_TOLERANCE,
			})}
			<label
				class="flex items-center gap-1.5"
				title="Keys stand first where it turns, level, as a person would put them"
			>
				<input
					type="checkbox"
					checked={cleaning.turns}
					onchange={(event) => void work.commit({ turns: event.currentTarget.checked })}
				/> At turns first
			</label>
		</span>
		<span class="whitespace-nowrap text-right font-semibold" data-key-count>{samples} → {keys} keys</span>
	</div>
	<KeyCounts {work} />
	<!-- Long of a skeleton: it scrolls by itself, by keys too. -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<ul
		class="flex max-h-[150px] flex-col gap-1 overflow-y-auto"
		aria-label="channels of the take"
		tabindex="0"
	>
		{#each rows as { column, name, figures, unit }, i (i)}
			<li class="flex items-center gap-2">
				<span class="w-[190px] shrink-0">
					{#if column.index !== undefined}{name}{:else}<ChannelPicker
							label="where {name} is laid"
							value={session.doc.parts[column.part] ? column : null}
							none="nothing that is there"
							onpick={(chosen) => chosen && take && layColumn(session, take, i, chosen)}
						/>{/if}
				</span>
				<span class="font-mono text-xs text-muted">
					{figures.keys} keys · off by {digits(figures.largest)}{unit} at most, {digits(figures.rms)}{unit} RMS
				</span>
			</li>
		{/each}
	</ul>
	<div class="flex gap-2">
		<button
			type="button"
			class="btn !min-h-[24px]"
			disabled={work.done !== null}
			title="The keys of this take in the place of what is there now"
			onclick={() => work.putAgain()}>Put its keys</button
		>
		{#if work.done !== null && rows.length + work.done > 0}
			<button type="button" class="btn !min-h-[24px]" onclick={() => work.stop()}>Stop</button>
			<span class="text-muted" role="status">Cleaning: {work.done} of {take?.columns.length} channels</span>
		{/if}
	</div>
{/if}

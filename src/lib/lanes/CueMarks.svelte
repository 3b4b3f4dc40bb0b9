<script lang="ts">
	import { untrack } from 'svelte';
	import { nextPass } from '$player/cues';
	import { putCue, removeCue } from '$core/edits/clips';
	import type { Cue } from '$core/document/types';
	import { parseJson } from '$core/json';
	import { fail, ok } from '$core/result';
	import { clamp, frameToTicks, ticksToFrame } from '$core/time';
	import type { Drag } from '$lib/session/project.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import CodeField from '$lib/ui/CodeField.svelte';
	import Sheet from '$lib/ui/Sheet.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import type { LaneView } from './lane-view.svelte';

	/** The cues of the clip on its ruler: click to change one, drag to move it. */
	import { makeSnapper, type Snap } from './snap';

	let { view, onhint }: { view: LaneView; onhint: (hint: string) => void } = $props();
	const session = useSession();
	const { transport } = session;
	const rate = $derived(session.frameRate);
	const cues = $derived(
		Object.values(session.doc.cues)
			.filter((cue) => cue.clip === session.clipId)
			.sort((a, b) => a.t - b.t),
	);
	const HUES = ['--rust', '--moss', '--heather', '--slate', '--lake'];
	/** Cues of one name have one hue. */
	function hueOf(name: string): string {
		let sum = 0;
		for (const letter of name) sum = (sum * 31 + letter.codePointAt(0)!) % 9973;
		return HUES[sum % HUES.length];
	}

	/** Pixels that a name takes at most; less where the next cue is near. */
	const LABEL_ROOM = 160;

	/** Cues that the playhead has just passed, for as long as they flash. */
	let flashing = $state.raw<ReadonlySet<string>>(new Set());
	const FLASH_MS = 350;
	let before = 0;
	let wasPlaying = false;
	$effect(() => {
		const { ticks, playing } = transport;
		const { clip } = session;
		if (playing && wasPlaying && clip && ticks !== before) {
			// At the start its own cues are still to come.
			const from = before === 0 ? -1 : before;
			const way = ticks < before ? -1 : 1;
			const passed = cues
				.filter(({ t }) => (ticks - nextPass(clip, t, from, way)) * way >= 0)
				.map(({ id }) => id);
			if (passed.length > 0) {
				flashing = new Set([...flashing, ...passed]);
				setTimeout(() => {
					flashing = new Set([...flashing].filter((id) => !passed.includes(id)));
				}, FLASH_MS);
			}
		}
		before = ticks;
		wasPlaying = playing;
	});

	let held: { cue: Cue; x: number; drag: Drag | null; snap: Snap } | null = null;
	function down(event: PointerEvent, cue: Cue) {
		if (event.button !== 0) return;
		event.stopPropagation();
		held = { cue, x: event.clientX, drag: null, snap: makeSnapper(session, view, { cue: cue.id }) };
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
	}
	function move(event: PointerEvent) {
		if (!held || !session.clip) return;
		const dx = event.clientX - held.x;
		if (!held.drag && Math.abs(dx) < 3) return;
		held.drag ??= session.startDrag(`Move cue ${held.cue.name}`);
		const wanted = held.cue.t + dx * view.ticksPerPixel;
		const at = held.snap(wanted, event.ctrlKey);
		const { cue } = held;
		const t = clamp(at, 0, session.clip.length);
		held.drag.update((doc) => putCue(doc, { ...cue, t }));
	}
	function up() {
		if (held?.drag) held.drag.commit();
		else if (held) open(held.cue);
		held = null;
	}
	function cancel() {
		held?.drag?.cancel();
		held = null;
	}

	let edited = $state.raw<Cue | null>(null);
	let payload = $state('');
	/** Characters of a payload. */
	const LONGEST = 10_000;
	const parsed = $derived(parsePayload(payload));

	function parsePayload(text: string) {
		if (text.length > LONGEST) return fail('', `A payload has at most ${writeNumber(LONGEST)} characters.`);
		return text.trim() === '' ? ok(null) : parseJson(text);
	}

	function open(cue: Cue) {
		edited = cue;
		payload = cue.payload === null ? '' : JSON.stringify(cue.payload, null, 2);
	}
	/** Whether it is not there yet. */
	const isNew = $derived(edited !== null && !session.doc.cues[edited.id]);
	$effect(() => {
		const { newCue } = session.asks;
		if (!newCue) return;
		session.asks.newCue = null;
		open(newCue);
	});
	function save() {
		if (!edited || !parsed.ok) return;
		const cue = { ...edited, name: edited.name.trim() || 'cue', payload: parsed.value };
		const label = isNew ? 'Add' : 'Change';
		edited = null;
		session.edit(`${label} cue ${cue.name}`, (doc) => putCue(doc, cue));
	}
	function remove() {
		if (!edited) return;
		const { id, name } = edited;
		edited = null;
		session.edit(`Delete cue ${name}`, (doc) => removeCue(doc, id));
	}
</script>

{#each cues as cue, i (cue.id)}
	{@const late = view.x(cue.t) > view.width - 80}
	{@const beside = late ? cues[i - 1] : cues[i + 1]}
	{@const room = beside ? Math.abs(view.x(beside.t) - view.x(cue.t)) - 3 : LABEL_ROOM}
	<button
		type="button"
		class="absolute top-0 h-[24px] min-w-[7px] cursor-grab touch-none truncate rounded-[2px] text-left text-xs leading-[22px] {late
			? '-translate-x-full border-r-2 pr-1'
			: 'border-l-2 pl-1'} {flashing.has(cue.id) ? 'font-bold' : ''}"
		style:left="{view.x(cue.t)}px"
		style:max-width="{Math.max(7, Math.min(LABEL_ROOM, room))}px"
		style:border-color="var({hueOf(cue.name)})"
		style:color={flashing.has(cue.id) ? 'var(--paper)' : `var(${hueOf(cue.name)})`}
		style:background={flashing.has(cue.id) ? `var(${hueOf(cue.name)})` : 'transparent'}
		aria-label="cue {cue.name}, frame {writeNumber(ticksToFrame(cue.t, rate), 1)}"
		title="cue {cue.name}, frame {writeNumber(ticksToFrame(cue.t, rate), 1)}"
		onpointerdown={(event) => down(event, cue)}
		onpointermove={(event) => (held ? move(event) : onhint('click: change the cue; drag: move it'))}
		onpointerup={up}
		onpointercancel={cancel}
		onkeydown={(event) => {
			if (event.key === 'Enter' || event.key === ' ') {
				event.preventDefault();
				event.stopPropagation();
				open(cue);
			}
		}}>{cue.name}</button
	>
	<span
		class="pointer-events-none absolute bottom-0 top-[19px] w-px opacity-40"
		style:left="{view.x(cue.t)}px"
		style:background="var({hueOf(cue.name)})"
	></span>
{/each}

<Sheet
	bind:open={() => edited !== null, (value) => (edited = value ? edited : null)}
	title="Cue"
	about="A named moment that travels with the clip: the code waits for its name, not for a number."
	width="w-[420px]"
>
	{#if edited}
		<div class="mt-3 flex flex-col gap-2">
			<label class="flex items-center gap-2">
				<span class="w-16 text-muted">name</span>
				<input
					class="field flex-1 font-semibold"
					maxlength="120"
					value={edited.name}
					oninput={(event) => {
						if (edited) edited = { ...edited, name: event.currentTarget.value };
					}}
					{@attach (element) => {
						if (!untrack(() => isNew)) return;
						element.focus();
						element.select();
					}}
				/>
			</label>
			<label class="flex items-center gap-2">
				<span class="w-16 text-muted">frame</span>
				<FrameField
					label="frame of the cue"
					value={ticksToFrame(edited.t, rate)}
					unit=""
					digits={2}
					min={0}
					max={ticksToFrame(session.clip?.length ?? 0, rate)}
					class="w-[80px]"
					oncommit={(v) => {
						if (edited) edited = { ...edited, t: frameToTicks(v, rate) };
					}}
				/>
			</label>
			<div class="flex items-start gap-2">
				<span class="w-16 pt-1 text-muted">payload</span>
				<CodeField
					class="min-h-[84px] max-h-[40vh] overflow-y-auto"
					label="payload"
					language="json"
					value={payload}
					describedBy="payload-problem"
					hint={'JSON, for example {"loudness": 0.8}'}
					check={(text) => {
						const told = parsePayload(text);
						return told.ok ? null : told.problems[0];
					}}
					oninput={(text) => (payload = text)}
					onenter={save}
				/>
			</div>
			<p id="payload-problem" class="min-h-[18px] text-rust" role="status">
				{parsed.ok ? '' : parsed.problems[0].message}
			</p>
		</div>
	{/if}
	{#snippet aside()}
		{#if !isNew}<button type="button" class="btn" onclick={remove}>Delete cue</button>{/if}
	{/snippet}
	{#snippet actions()}
		<button type="button" class="btn btn-main" disabled={!parsed.ok} onclick={save}>Save</button>
	{/snippet}
</Sheet>

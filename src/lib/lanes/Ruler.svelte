<script lang="ts">
	import { ContextMenu } from 'bits-ui';
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import SkipBack from '@lucide/svelte/icons/skip-back';
	import { clamp, frameToTicks, isOnFrame, MAX_CLIP_TICKS, ticksToFrame } from '$core/time';
	import { ticksToSeconds } from '$player/time';
	import { updateClip } from '$core/edits/clips';
	import { openGap } from '$core/edits/retime';
	import { offerWholeFrames } from '$lib/acts/whole-frames';
	import { chosen, type Command } from '$lib/ui/command';
	import CommandMenu from '$lib/ui/CommandMenu.svelte';
	import type { Drag } from '$lib/session/project.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import FrameField from '$lib/session/FrameField.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import BlendMarks from './BlendMarks.svelte';
	import CueMarks from './CueMarks.svelte';
	import SoundStrip from './SoundStrip.svelte';
	import { RULER_UNITS, type LaneView } from './lane-view.svelte';
	import { frameStep, marks } from './ruler-steps';

	import { makeSnapper, type Snap } from './snap';

	interface Props {
		view: LaneView;
		commands: readonly Command[];
		onhint: (hint: string) => void;
	}
	let { view, commands, onhint }: Props = $props();
	const MENU = [
		'cue',
		'range-start',
		'range-end',
		'range',
		'gap',
		'close-gap',
		'hold-pose',
		'clip-split',
		'clip-end-here',
		'clip-begin-here',
		'fit-clip',
	];
	const menu = $derived(chosen(commands, MENU));
	const session = useSession();
	const { transport } = session;
	const length = $derived(session.clip?.length ?? 0);
	const rate = $derived(session.frameRate);
	const right = $derived(view.ticksAt(view.width));
	const step = $derived(frameStep(view.ticksPerPixel, rate, 46));
	const fine = $derived(frameStep(view.ticksPerPixel, rate, 8));
	// The last few pixels belong to the end of the clip.
	const END_ROOM = 30;
	const labelled = $derived(
		marks(view.from, right - 22 * view.ticksPerPixel, step, rate).filter(
			(t) => Math.abs(view.x(t) - view.x(length)) > END_ROOM,
		),
	);
	const small = $derived(marks(view.from, right, fine, rate));
	const isPlaying = $derived(transport.playing || session.across.blend !== null);
	const frame = $derived(ticksToFrame(transport.local, rate));

	let strip: HTMLDivElement;
	let grabbed = false;
	/** Of the drag under way. */
	let snap: Snap = Math.round;

	function labelOf(t: number): string {
		if (view.unit === 'frames') return String(Math.round(ticksToFrame(t, rate)));
		return view.unit === 'seconds'
			? writeNumber(ticksToSeconds(t), 2)
			: String(Math.round(1000 * ticksToSeconds(t)));
	}
	function nextUnit() {
		view.unit = RULER_UNITS[(RULER_UNITS.indexOf(view.unit) + 1) % RULER_UNITS.length];
		view.remember();
	}

	function timeAt(event: MouseEvent): number {
		const x = event.clientX - strip.getBoundingClientRect().left;
		return clamp(snap(view.ticksAt(x), event.ctrlKey), 0, length);
	}
	function seekTo(event: MouseEvent) {
		transport.stop();
		transport.seek(timeAt(event));
	}
	/** What a drag on the ruler does: the playhead, the range that plays, or time put in and taken out. */
	let ranging: number | null = null;
	let gap: { from: number; drag: Drag } | null = null;
	let gapFrames = $state<number | null>(null);
	function down(event: PointerEvent) {
		if (event.button !== 0) return;
		strip.setPointerCapture(event.pointerId);
		snap = makeSnapper(session, view, { playhead: true });
		if (event.shiftKey) ranging = timeAt(event);
		else if (event.altKey) gap = { from: timeAt(event), drag: session.startDrag('Insert time') };
		else {
			grabbed = true;
			seekTo(event);
		}
	}
	function move(event: PointerEvent) {
		if (grabbed) seekTo(event);
		else if (ranging !== null) transport.setRange(ranging, timeAt(event));
		else if (gap && session.clip) {
			const { from, drag } = gap;
			const x = event.clientX - strip.getBoundingClientRect().left;
			const to = snap(view.ticksAt(x), event.ctrlKey);
			const id = session.clip.id;
			const ticks = clamp(to - from, -from, MAX_CLIP_TICKS - drag.start.clips[id].length);
			gapFrames = ticksToFrame(ticks, rate);
			// To the left it closes: what stands between the two places goes.
			drag.update((doc) =>
				openGap(doc, doc.clips[id], ticks < 0 ? from + ticks : from, ticks, session.view.cuesToo),
			);
		} else
			onhint('drag: playhead; Shift: a range to play; Alt: put time in or take it out; Ctrl+wheel: zoom');
	}
	function up() {
		grabbed = false;
		ranging = null;
		if (gap) {
			gap.drag.commit(gapFrames !== null && gapFrames < 0 ? 'Remove time' : 'Insert time');
			offerWholeFrames(session, gap.drag.start);
		}
		gap = null;
		gapFrames = null;
	}
	function cancel() {
		gap?.drag.cancel();
		gap = null;
		up();
	}

	let ending: { x: number; length: number; drag: ReturnType<typeof session.startDrag> } | null = null;
	function endDown(event: PointerEvent) {
		snap = makeSnapper(session, view);
		ending = { x: event.clientX, length, drag: session.startDrag('Clip length') };
		(event.currentTarget as Element).setPointerCapture(event.pointerId);
		event.stopPropagation();
	}
	function endMove(event: PointerEvent) {
		if (!ending || !session.clipId) return;
		const wanted = ending.length + (event.clientX - ending.x) * view.ticksPerPixel;
		const least = frameToTicks(1, rate);
		const next = Math.max(least, snap(wanted, event.ctrlKey));
		const id = session.clipId;
		ending.drag.update((doc) => updateClip(doc, id, { length: Math.min(MAX_CLIP_TICKS, next) }));
	}
	function endUp() {
		ending?.drag.commit();
		ending = null;
	}
	function endKey(event: KeyboardEvent) {
		const change = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
		if (change === 0 || !session.clipId) return;
		event.preventDefault();
		event.stopPropagation();
		const id = session.clipId;
		const frames = Math.max(1, Math.round(ticksToFrame(length, rate)) + change);
		session.edit('Clip length', (doc) => updateClip(doc, id, { length: frameToTicks(frames, rate) }));
	}
</script>

<div class="flex h-[58px] shrink-0 border-b border-rule bg-paper">
	<div class="flex shrink-0 items-center gap-1.5 pl-2 pr-2" style:width="{view.headerWidth}px">
		<button
			type="button"
			class="flex size-8 items-center justify-center rounded-full bg-moss text-moss-ink"
			aria-label={isPlaying ? 'pause' : 'play'}
			title="{isPlaying ? 'Pause' : 'Play'} (Space)"
			onclick={() => session.togglePlaying()}
		>
			{#if isPlaying}<Pause size={15} fill="currentColor" />{:else}<Play size={15} fill="currentColor" />{/if}
		</button>
		<button
			type="button"
			class="target hidden text-muted md:inline-flex"
			aria-label="play from the start"
			title="Play from the start (Enter)"
			onclick={() => session.togglePlaying(true)}
		>
			<SkipBack size={15} />
		</button>
		<div class="flex flex-col">
			<span class="flex items-center gap-1">
				<span class="text-xs text-muted">f</span>
				<FrameField
					label="frame at the playhead"
					field="playhead"
					value={frame}
					unit=""
					digits={isOnFrame(Math.round(transport.local), rate) ? 0 : 1}
					min={0}
					class="w-[52px] !min-h-[24px] !px-1 !text-sm font-semibold"
					onpreview={(v) => transport.seek(frameToTicks(v, rate))}
					oncommit={(v) => transport.seek(frameToTicks(v, rate))}
				/>
			</span>
			<button
				type="button"
				class="min-h-[24px] pl-3 text-left font-mono text-xs text-muted hover:text-ink"
				aria-label="ruler counts in {view.unit}: change"
				title="The ruler counts in {view.unit}: click to change"
				onclick={nextUnit}
				>{view.unit === 'ms'
					? `${writeNumber(1000 * ticksToSeconds(transport.local), 1)} ms`
					: `${writeNumber(ticksToSeconds(transport.local), 3)} s`}</button
			>
		</div>
		<div class="ml-auto hidden flex-col items-end md:flex">
			<button
				type="button"
				class="flex min-h-[24px] items-center gap-1 rounded-full border px-2 text-xs {session.isAutoKey
					? 'border-rust bg-rust font-semibold text-paper'
					: 'border-rule text-muted'}"
				aria-pressed={session.isAutoKey}
				title="Auto-key: what you change by hand gets keys (A)"
				onclick={() => (session.isAutoKey = !session.isAutoKey)}
			>
				<span class="size-2 rounded-full {session.isAutoKey ? 'bg-paper' : 'bg-rule'}" aria-hidden="true"
				></span>Auto-key
			</button>
			{#if session.isAutoKey}
				<button
					type="button"
					class="min-h-[24px] pr-1 text-xs leading-4 text-rust underline decoration-dotted"
					aria-label="sets keys on {session.autoKeyScope === 'everything'
						? 'everything that is changed'
						: 'channels that are there'}: change"
					title="Keys on everything that is changed, or only on channels that are there already"
					onclick={() =>
						(session.autoKeyScope = session.autoKeyScope === 'everything' ? 'existing' : 'everything')}
					>{session.autoKeyScope === 'everything' ? 'everything' : 'channels there'}</button
				>
			{/if}
		</div>
	</div>
	<div class="relative min-w-0 flex-1 overflow-hidden">
		<ContextMenu.Root>
			<ContextMenu.Trigger class="block h-full" oncontextmenu={seekTo}>
				<div
					bind:this={strip}
					class="relative h-full cursor-col-resize touch-none bg-band"
					role="slider"
					tabindex="0"
					aria-label="playhead"
					aria-valuemin={0}
					aria-valuemax={Math.round(ticksToFrame(length, rate))}
					aria-valuenow={Math.round(frame * 10) / 10}
					aria-valuetext="frame {writeNumber(frame, 1)}"
					onpointerdown={down}
					onpointermove={move}
					onpointerup={up}
					onpointercancel={cancel}
				>
					{#if session.clip?.sound}<SoundStrip sound={session.clip.sound} {view} />{/if}
					{#if transport.range}
						<span
							class="absolute bottom-0 top-0 border-x-2 border-moss bg-moss/15"
							style:left="{view.x(transport.range.from)}px"
							style:width="{view.x(transport.range.to) - view.x(transport.range.from)}px"
						></span>
					{/if}
					{#each small as t (t)}
						<span class="absolute bottom-0 h-[5px] w-px bg-rule" style:left="{view.x(t)}px"></span>
					{/each}
					{#each labelled as t (t)}
						<span class="absolute bottom-0 h-[10px] w-px bg-muted" style:left="{view.x(t)}px"></span>
						<span
							class="absolute bottom-[9px] pl-[3px] font-mono text-xs leading-none text-muted"
							style:left="{view.x(t)}px">{labelOf(t)}</span
						>
					{/each}
					<span
						class="pointer-events-none absolute bottom-0 top-0 w-px bg-rust"
						style:left="{view.x(transport.local)}px"
					></span>
					<span
						class="pointer-events-none absolute bottom-[2px] size-[11px] -translate-x-1/2 rounded-full bg-rust"
						style:left="{view.x(transport.local)}px"
					></span>
				</div>
			</ContextMenu.Trigger>
			<CommandMenu label="ruler" commands={menu} />
		</ContextMenu.Root>
		{#if gapFrames !== null}
			<span
				class="pointer-events-none absolute left-2 top-1 rounded bg-lake px-1 font-mono text-xs text-paper"
				>{gapFrames < 0 ? 'closes' : 'opens'} {writeNumber(Math.abs(gapFrames), 1)} f</span
			>
		{/if}
		{#if transport.range}
			<button
				type="button"
				class="absolute top-0 min-h-[24px] rounded-full border border-moss bg-sheet px-1.5 text-xs leading-4 text-moss"
				style:left="{Math.max(2, view.x(transport.range.from) + 4)}px"
				aria-label="play the whole clip again"
				title="Plays frames {writeNumber(ticksToFrame(transport.range.from, rate), 1)} to {writeNumber(
					ticksToFrame(transport.range.to, rate),
					1,
				)} only: click to let go (Shift+R)"
				onclick={() => (transport.range = null)}>range ×</button
			>
		{/if}
		<CueMarks {view} {onhint} />
		<BlendMarks {view} />
		<span
			class="target absolute bottom-0 cursor-ew-resize"
			style:left="{view.x(length) - 9.5}px"
			role="slider"
			tabindex="0"
			aria-label="end of the clip"
			aria-valuenow={Math.round(ticksToFrame(length, rate))}
			aria-valuemin={1}
			title="End of the clip: drag, or arrow keys"
			onpointerdown={endDown}
			onpointermove={endMove}
			onpointerup={endUp}
			onpointercancel={() => {
				ending?.drag.cancel();
				ending = null;
			}}
			onkeydown={endKey}><span class="mt-[2px] h-[22px] w-[7px] rounded-t-[3px] bg-slate"></span></span
		>
	</div>
</div>

<script lang="ts">
	import { toast } from 'svelte-sonner';
	import { addTween } from '$core/edits/tween';
	import { channelId } from '$core/document/types';
	import { readCssMotions } from '$core/easing/css-declaration';
	import { ticksToFrame } from '$core/time';
	import { pickedKeys } from '$lib/session/selection.svelte';
	import { useSession } from '$lib/session/session.svelte';
	import Sheet from '$lib/ui/Sheet.svelte';
	import TweenRow from './TweenRow.svelte';
	import { choicesOf, EASINGS, TweenLines, type Row } from './tween-rows';

	/** Motions in the order in which code tells them; several at once; ordinary keys come out. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	const rate = $derived(session.frameRate);
	const lines = $derived(new TweenLines(session.doc, session.clipId ?? ''));

	let rows = $state.raw<Row[]>([]);
	let css = $state('');
	/** What was said of pasted CSS: what is wrong with it, or what was left out. */
	let cssWrong = $state('');
	let cssTold = $state<readonly string[]>([]);

	function blank(): Row {
		// Of nothing in hand, what moves in this clip already.
		const moving = Object.values(session.doc.channels).find((channel) => channel.clip === session.clipId);
		const part = session.selection.partId ?? moving?.part ?? session.project.tree[0]?.part.id ?? '';
		const { channel } = session.selection;
		const inHand = channel ? `${channel.property}/${channel.component}` : '';
		const isOffered = choicesOf(session.doc, part).some(({ value }) => value === inHand);
		const what = isOffered ? inHand : 'translation/x';
		const start = Math.round(ticksToFrame(session.transport.local, rate));
		return {
			part,
			what,
			from: null,
			relative: false,
			to: lines.nowOf({ part, what, start }),
			start,
			delay: 0,
			duration: Math.round(rate / 2),
			unit: 'frames',
			easing: 'Slow ends',
		};
	}
	$effect(() => {
		if (open && rows.length === 0) rows = [blank()];
		if (!open) {
			rows = [];
			css = cssWrong = '';
			cssTold = [];
		}
	});
	const wrong = $derived(rows.map((row, i) => lines.wrongOf(row, i, rows)));

	/** Takes declarations of CSS for the lines; false where the text has none that can be read. */
	function takeCss(text: string): boolean {
		cssWrong = '';
		cssTold = [];
		if (text.trim() === '') return false;
		const read = readCssMotions(text);
		if (!read.ok) {
			cssWrong = read.problems[0].message;
			return false;
		}
		const made = lines.fromCss(read.value, rows);
		rows = made.rows;
		cssTold = made.told;
		css = '';
		return true;
	}
	/** An easing alone is for its field. */
	const isDeclaration = (text: string) => /(transition|animation)[a-z-]*\s*:/i.test(text);

	function make() {
		const tweens = rows.map((row) => lines.tweenOf(row));
		const count = tweens.length;
		const keys = new Map<string, Set<number>>();
		for (const tween of tweens) {
			const id = channelId(tween.clip, tween.part, tween.property, tween.component);
			keys.set(id, (keys.get(id) ?? new Set()).add(tween.start));
		}
		session.edit(count === 1 ? 'Add a tween' : `Add ${count} motions`, (doc) => ({
			doc: tweens.reduce(addTween, doc),
			...pickedKeys(keys),
		}));
		open = false;
		toast(count === 1 ? 'One motion, as keys' : `${count} motions, as keys`, { duration: 1800 });
	}
</script>

<Sheet
	bind:open
	title="Tween"
	about="What moves, from where, to or by how much, when, how long, how. Each becomes two ordinary keys."
	width="w-[1040px]"
>
	<table class="mt-3 w-full border-separate border-spacing-x-1 border-spacing-y-1">
		<thead class="text-left text-muted">
			<tr>
				{#each ['Part', 'Property', 'From', '', 'Value', 'Start', 'Delay', 'Duration', '', 'Easing', ''] as head, i (i)}
					<th class="font-normal"
						>{#if head}{head}{:else}<span class="sr-only">Delete</span>{/if}</th
					>
				{/each}
			</tr>
		</thead>
		<tbody>
			{#each rows as row, i (i)}
				<TweenRow
					{row}
					{lines}
					wrong={wrong[i]}
					isOnly={rows.length === 1}
					onchange={(changed) => (rows = rows.with(i, changed))}
					ondrop={() => (rows = rows.filter((_, k) => k !== i))}
					onpasted={(text) => isDeclaration(text) && takeCss(text)}
				/>
			{/each}
		</tbody>
	</table>
	<datalist id="tween-easings">
		{#each EASINGS as easing (easing.name)}<option value={easing.name}>{easing.css ?? ''}</option>{/each}
		<option value="cubic-bezier(0.2, 0.8, 0.2, 1)"></option>
		<option value="steps(4, jump-end)"></option>
	</datalist>
	<label class="mt-3 flex items-center gap-2">
		<span class="shrink-0 text-muted">From CSS</span>
		<input
			class="field flex-1 font-mono aria-invalid:border-rust"
			aria-label="CSS transition or animation"
			aria-invalid={cssWrong !== ''}
			placeholder="transition: opacity 300ms ease-out, rotate 0.5s linear 100ms"
			spellcheck="false"
			bind:value={css}
			onpaste={(event) => {
				if (takeCss(event.clipboardData?.getData('text') ?? '')) event.preventDefault();
			}}
			onkeydown={(event) => {
				if (event.key !== 'Enter' || css.trim() === '') return;
				event.preventDefault();
				takeCss(css);
			}}
		/>
	</label>
	<div class="min-h-[18px]" role="status">
		{#if cssWrong !== ''}<p class="text-rust">{cssWrong}</p>{/if}
		{#each cssTold as told (told)}<p class="text-muted">{told}</p>{/each}
	</div>
	{#snippet aside()}
		<button type="button" class="btn" onclick={() => (rows = [...rows, lines.next(rows)])}>Add another</button
		>
	{/snippet}
	{#snippet actions()}
		<button type="button" class="btn btn-main" disabled={wrong.some((text) => text !== '')} onclick={make}
			>Create keys</button
		>
	{/snippet}
</Sheet>

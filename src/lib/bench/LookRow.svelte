<script lang="ts">
	import { updatePart } from '$core/edits/parts';
	import { TEXT_ALIGNS, type Drawing, type Part, type TextAlign } from '$core/document/types';
	import { DRAWING_NAMES } from '$core/document/labels';
	import { pathLines } from '$core/outline/outline';
	import { acceptedFor, replaceFile } from '$lib/acts/part-files';
	import { useSession } from '$lib/session/session.svelte';
	import { sentence } from '$lib/ui/sentence';
	import ColourField from '$lib/ui/ColourField.svelte';
	import Labelled from '$lib/ui/Labelled.svelte';

	/** What a part's drawing is, apart from its numbers: path, text, outline, pattern. */
	let { part }: { part: Part } = $props();
	const session = useSession();
	const drawing = $derived(part.drawing);
	/** Patterns show how a body turns; a picture or a model shows it by itself. */
	const patterned = $derived(!['empty', 'camera', 'label', 'image', 'model'].includes(drawing.kind));
	/** Outlines of a new line: two pixels, or a fiftieth of a metre. */
	const thin = $derived(session.doc.project.space === 'interface' ? 2 : 0.02);

	function put(label: string, next: Drawing) {
		session.edit(label, (doc) => updatePart(doc, part.id, { drawing: next }));
	}

	/** A drawing without some members that it need not have. */
	function without(from: Drawing, ...names: string[]): Drawing {
		return Object.fromEntries(Object.entries(from).filter(([name]) => !names.includes(name))) as Drawing;
	}

	let otherFile = $state.raw<HTMLInputElement>()!;
	let wrongPath = $state<string | null>(null);
	$effect(() => {
		void part.id;
		wrongPath = null;
	});
	/** Takes a path that draws something; what does not is told, and nothing changes. */
	function setPath(d: string) {
		if (drawing.kind !== 'path') return;
		try {
			wrongPath = pathLines(d.trim()).length > 0 ? null : 'This path draws nothing.';
		} catch (error) {
			wrongPath = error instanceof Error ? error.message : String(error);
		}
		if (wrongPath === null) put('Change path', { ...drawing, d: d.trim() });
	}
	function setOutline(on: boolean) {
		if (!isFlat(drawing)) return;
		if (on)
			put('Add an outline', { ...drawing, stroke: { width: thin, colour: '#22303a', start: 0, end: 1 } });
		else put('Take the outline off', without(drawing, 'stroke', 'filled'));
	}
	function isFlat(d: Drawing): d is Extract<Drawing, { filled?: boolean }> {
		return d.kind === 'plane' || d.kind === 'card' || d.kind === 'ellipse' || d.kind === 'path';
	}
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
	<!-- The field of a text says so itself. -->
	{#if drawing.kind !== 'label'}<span class="text-muted">{sentence(DRAWING_NAMES[drawing.kind])}</span>{/if}
	{#if patterned}
		<label class="flex items-center gap-1.5">
			<input
				type="checkbox"
				checked={drawing.pattern === 'quarters'}
				onchange={(event) =>
					put(
						'Change pattern',
						event.currentTarget.checked ? { ...drawing, pattern: 'quarters' } : without(drawing, 'pattern'),
					)}
			/>
			Quarter pattern (shows turning)
		</label>
	{/if}
	{#if isFlat(drawing)}
		<label class="flex items-center gap-1.5">
			<input
				type="checkbox"
				checked={drawing.stroke !== undefined}
				onchange={(event) => setOutline(event.currentTarget.checked)}
			/>
			Outline
		</label>
		{#if drawing.stroke}
			{@const { stroke } = drawing}
			{#if drawing.filled !== false}
				<ColourField
					label="colour of the outline"
					class="h-[24px] w-[32px]"
					value={stroke.colour}
					oncommit={(colour) =>
						put('Change colour of the outline', { ...drawing, stroke: { ...stroke, colour } })}
				/>
			{/if}
			<label class="flex items-center gap-1.5">
				<input
					type="checkbox"
					checked={drawing.filled !== false}
					onchange={(event) =>
						event.currentTarget.checked
							? put('Fill it', without(drawing, 'filled'))
							: put('Leave it hollow', { ...drawing, filled: false })}
				/>
				Filled
			</label>
		{/if}
	{/if}
	{#if drawing.kind === 'path'}
		<label class="flex min-w-0 basis-full items-center gap-1.5">
			<span class="shrink-0 text-muted">SVG path</span>
			<input
				class="field min-w-[120px] flex-1 font-mono text-xs {wrongPath ? '!border-rust' : ''}"
				aria-label="SVG path of the part"
				aria-invalid={wrongPath !== null}
				maxlength="20000"
				value={drawing.d}
				onchange={(event) => setPath(event.currentTarget.value)}
			/>
		</label>
		{#if wrongPath}<p class="w-full text-rust">{wrongPath}</p>{/if}
	{/if}
	{#if 'asset' in drawing}
		<button type="button" class="btn" onclick={() => otherFile.click()}>Another file …</button>
		<input
			bind:this={otherFile}
			type="file"
			class="hidden"
			accept={acceptedFor(drawing)}
			aria-label="another file of {part.name}"
			onchange={(event) => {
				const [file] = event.currentTarget.files ?? [];
				if (file) void replaceFile(session, part.id, file);
				event.currentTarget.value = '';
			}}
		/>
	{/if}
	{#if drawing.kind === 'label'}
		<Labelled text="text">
			<input
				class="field"
				maxlength="400"
				value={drawing.text}
				onchange={(event) => put('Change text', { ...drawing, text: event.currentTarget.value })}
			/>
		</Labelled>
		<Labelled text="align">
			<select
				class="field"
				value={drawing.align ?? 'center'}
				onchange={(event) => put('Align text', { ...drawing, align: event.currentTarget.value as TextAlign })}
			>
				{#each TEXT_ALIGNS as align (align)}
					<option value={align}>{sentence(align)}</option>
				{/each}
			</select>
		</Labelled>
	{/if}
</div>

<script lang="ts">
	import { onMount } from 'svelte';
	import { MediaQuery } from 'svelte/reactivity';
	import { Dialog } from 'bits-ui';
	import { WindowVirtualizer } from 'virtua/svelte';
	import Archive from '@lucide/svelte/icons/archive';
	import FileUp from '@lucide/svelte/icons/file-up';
	import Moon from '@lucide/svelte/icons/moon';
	import Plus from '@lucide/svelte/icons/plus';
	import Sailboat from '@lucide/svelte/icons/sailboat';
	import { goto, invalidateAll } from '$app/navigation';
	import { toast } from 'svelte-sonner';
	import { dateAlone, dateAndTime } from '$lib/ui/dates';
	import { projectsIn } from '$lib/projects/unpack';
	import MendedNotice from '$lib/projects/MendedNotice.svelte';
	import ProjectTile from '$lib/projects/ProjectTile.svelte';
	import { MAX_FILE_LENGTH, MOST_PACK_BYTES } from '$core/formats/project/limits';
	import { ACCEPTED } from '$core/formats/registry';
	import { addresses, api, type ApiProblem, type ProjectCard } from '$lib/api/client';
	import type { Beginning } from '$core/motions/beginnings';
	import { freeName } from '$lib/acts/naming';
	import { theme } from '$lib/ui/theme.svelte';
	import Wordmark from '$lib/ui/Wordmark.svelte';

	let { data } = $props();
	let making = $state(false);
	let name = $state('');
	let space = $state<'world' | 'interface'>('world');
	let start = $state<Beginning>('nothing');
	/** What a first visit can begin with, at a click. */
	const FIRST = [
		{
			name: 'Card that arrives',
			space: 'interface',
			start: 'card',
			text: 'A card of an app comes up and settles. Pixels, y down.',
		},
		{
			name: 'Ball that hops',
			space: 'world',
			start: 'ball',
			text: 'A ball of a game crouches, jumps, lands, again. Metres, y up.',
		},
	] as const;
	const STARTS: readonly { value: Beginning; title: string }[] = [
		{ value: 'nothing', title: 'Nothing' },
		{ value: 'card', title: 'A card that arrives' },
		{ value: 'ball', title: 'A ball that hops' },
	];
	let busy = $state<string | null>(null);
	let dropping = $state(false);
	let fileInput: HTMLInputElement;

	/** Pixels of a row of cards. */
	const ROW = 206;
	/** So many are all drawn: what is not drawn at once cannot be clicked at once. */
	const FEW_ROWS = 8;
	const medium = new MediaQuery('min-width: 640px', true);
	const large = new MediaQuery('min-width: 1024px', true);
	const columns = $derived(large.current ? 3 : medium.current ? 2 : 1);
	const rows = $derived.by(() => {
		const { projects } = data;
		const count = Math.ceil(projects.length / columns);
		return Array.from({ length: count }, (_, i) => projects.slice(i * columns, (i + 1) * columns));
	});

	function complain(problem: ApiProblem) {
		const place = problem.pointer ? ` Place: ${problem.pointer}` : '';
		toast.error(problem.title, { description: `${problem.detail}${place}`, duration: 12_000 });
	}
	/** A name that no project here has. */
	function nameFor(base: string): string {
		return freeName(
			base,
			data.projects.map((card) => card.name),
		);
	}
	function askForNew() {
		name = nameFor('Project');
		start = 'nothing';
		making = true;
	}
	function create(event: SubmitEvent) {
		event.preventDefault();
		return make(name.trim(), space, start);
	}
	async function make(called: string, inSpace: typeof space, what: Beginning) {
		const answer = await api.create(called, inSpace, what);
		if (!answer.ok) return complain(answer.problem);
		making = false;
		await goto(`/p/${answer.value.id}`);
	}
	async function addDemo() {
		busy = 'Adding the demo projects';
		const answer = await api.addDemo();
		busy = null;
		if (!answer.ok) return complain(answer.problem);
		await invalidateAll();
	}
	async function importFiles(files: FileList | null | undefined) {
		for (const file of files ?? []) {
			const most = /\.zip$/i.test(file.name) ? MOST_PACK_BYTES : MAX_FILE_LENGTH;
			if (file.size > most) {
				const megabytes = most / 1024 / 1024;
				toast.error(`${file.name} is too large`, { description: `It may have ${megabytes} MB at most.` });
				continue;
			}
			busy = `Reading ${file.name}`;
			// What cannot be unpacked here is told by the server.
			const all = await projectsIn(file).catch(() => [file]);
			for (const own of all) await importFile(own);
			busy = null;
		}
	}
	async function importFile(file: File) {
		const answer = await api.importFile(file);
		if (!answer.ok) return complain(answer.problem);
		const { leftOut } = answer.value;
		const more = leftOut.length > 6 ? ` and ${leftOut.length - 6} more` : '';
		const description =
			leftOut.length > 0 ? `Not taken over: ${leftOut.slice(0, 6).join('; ')}${more}` : undefined;
		toast(`${file.name} is here as a project`, { description, duration: description ? 12_000 : 4000 });
		await invalidateAll();
	}
	async function remove(card: ProjectCard) {
		const answer = await api.remove(card.id);
		await invalidateAll();
		if (!answer.ok) return complainOf(card, answer.problem);
		toast(`${card.name} deleted`, {
			description: 'It can be brought back for 30 days.',
			duration: 10_000,
			action: {
				label: 'Undo',
				onClick: () => void restore(card),
			},
		});
	}
	async function restore(gone: { id: string; name: string }) {
		const restored = await api.restore(gone.id);
		await invalidateAll();
		if (!restored.ok) complainOf(gone, restored.problem);
	}
	async function forgetMended() {
		const answer = await api.forgetMended();
		if (!answer.ok) complain(answer.problem);
		await invalidateAll();
	}
	/** What is there no longer has been done already: in another window. */
	function complainOf({ name }: { name: string }, problem: ApiProblem) {
		if (problem.status === 404)
			toast(`${name} was deleted or restored in another window`, {
				description: 'The list is as it is now.',
			});
		else complain(problem);
	}

	/** The page comes drawn: until its script is there, a press would do nothing. */
	function takeChosen() {
		void importFiles(fileInput.files).then(() => (fileInput.value = ''));
	}
	let isReady = $state(false);
	/** The server knows no zone of the reader's: until the script is there, it is UTC. */
	const zone = $derived(isReady ? undefined : 'UTC');
	const when = $derived(dateAndTime(zone));
	const day = $derived(dateAlone(zone));
	onMount(() => {
		isReady = true;
		// One that was chosen before this script was there has told nobody.
		if (fileInput.files?.length) takeChosen();
	});
</script>

{#snippet cards(row: ProjectCard[])}
	<div class="grid gap-4 pb-4" style:grid-template-columns="repeat({columns}, minmax(0, 1fr))">
		{#each row as card (card.id)}
			<ProjectTile
				{card}
				{isReady}
				edited={when.format(new Date(card.updatedAt))}
				onremove={() => remove(card)}
			/>
		{/each}
	</div>
{/snippet}

<svelte:head><title>Projects · Hillock</title></svelte:head>
<svelte:window
	ondragover={(event) => {
		event.preventDefault();
		dropping = true;
	}}
	ondragleave={() => (dropping = false)}
	ondrop={(event) => {
		event.preventDefault();
		dropping = false;
		void importFiles(event.dataTransfer?.files);
	}}
/>

<header class="flex h-12 items-center gap-4 border-b border-rule px-5">
	<Wordmark />
	<span class="text-muted">clips with a shape</span>
	<a class="btn btn-plain" href="/guide">Guide</a>
	<button
		type="button"
		class="btn btn-square btn-plain ml-auto"
		aria-label="light or night"
		title="Light or night"
		disabled={!isReady}
		onclick={() => theme.toggle()}><Moon size={16} /></button
	>
</header>
<main class="mx-auto max-w-[1080px] px-5 py-6">
	<div class="mb-5 flex flex-wrap items-center gap-2">
		<h1 class="text-lg font-bold">Projects</h1>
		<span class="ml-auto"></span>
		<button type="button" class="btn" disabled={!isReady} onclick={() => fileInput.click()}
			><FileUp size={15} />Import a file</button
		>
		<button type="button" class="btn" disabled={!isReady} onclick={addDemo}
			><Sailboat size={15} />Add the demo</button
		>
		<button type="button" class="btn btn-main" disabled={!isReady} onclick={askForNew}
			><Plus size={15} />New project</button
		>
		<input
			bind:this={fileInput}
			type="file"
			class="hidden"
			accept={ACCEPTED}
			aria-label="project file"
			onchange={takeChosen}
		/>
	</div>
	{#if data.mended}
		<MendedNotice mended={data.mended} onread={forgetMended} />
	{/if}
	{#if busy}<p class="mb-3 text-muted" role="status">{busy} …</p>{/if}
	{#if data.projects.length === 0}
		<section class="rounded-lg border border-dashed border-rule px-6 py-8" aria-label="first steps">
			<p class="text-base font-semibold">No project yet. Begin with one of these:</p>
			<div class="mt-4 grid gap-3 sm:grid-cols-3">
				{#each FIRST as first (first.start)}
					<button
						type="button"
						class="rounded-lg border border-rule bg-sheet p-4 text-left hover:border-moss"
						disabled={!isReady}
						onclick={() => make(nameFor(first.name), first.space, first.start)}
						><strong class="block text-base">{first.name}</strong>
						<span class="text-muted">{first.text}</span></button
					>
				{/each}
				<button
					type="button"
					class="rounded-lg border border-rule bg-sheet p-4 text-left hover:border-moss"
					disabled={!isReady}
					onclick={addDemo}
					><strong class="block text-base">The demo</strong>
					<span class="text-muted"
						>A harbour post office: two projects with clips, triggers, blends and cues.</span
					></button
				>
			</div>
			<p class="mt-4 text-muted">
				Or <button type="button" class="text-moss underline" disabled={!isReady} onclick={askForNew}
					>make an empty one</button
				>, or
				<button
					type="button"
					class="text-moss underline"
					disabled={!isReady}
					onclick={() => fileInput.click()}>import a file</button
				>: a project, glTF, SVG or CSS that moves, a table, a skeleton; it can be dropped anywhere here. The
				<a class="text-moss underline" href="/guide">guide</a> leads through the work in twelve pages.
			</p>
		</section>
	{/if}
	<div role="list" aria-label="projects">
		{#if rows.length > FEW_ROWS}
			<WindowVirtualizer data={rows} getKey={([first]) => first.id} itemSize={ROW} ssrCount={FEW_ROWS}>
				{#snippet children(row)}{@render cards(row)}{/snippet}
			</WindowVirtualizer>
		{:else}
			{#each rows as row (row[0].id)}{@render cards(row)}{/each}
		{/if}
	</div>
	{#if data.projects.length > 0}
		<p class="mt-2">
			<a class="btn w-fit" href={addresses.allProjects} download
				><Archive size={15} />Save all projects as one zip</a
			>
		</p>
	{/if}
	{#if data.deleted.length > 0}
		<details class="mt-8 border-t border-rule pt-3">
			<summary class="w-fit cursor-pointer font-semibold">Trash ({data.deleted.length})</summary>
			<ul class="mt-2 flex flex-col" aria-label="trash">
				{#each data.deleted as gone (gone.id)}
					<li class="flex items-center gap-3 border-b border-rule py-1.5">
						<span class="min-w-0 flex-1 truncate font-semibold">{gone.name}</span>
						<span class="text-muted"
							>deleted {day.format(new Date(gone.deletedAt))}, kept until {day.format(
								new Date(gone.keptUntil),
							)}</span
						>
						<button
							type="button"
							class="btn"
							aria-label="restore {gone.name}"
							disabled={!isReady}
							onclick={() => restore(gone)}>Restore</button
						>
					</li>
				{/each}
			</ul>
		</details>
	{/if}
</main>
{#if dropping}
	<div
		class="pointer-events-none fixed inset-3 flex items-center justify-center rounded-xl border-2 border-dashed border-moss bg-paper/80 text-lg font-bold"
	>
		Drop a project file or a glTF file to import it
	</div>
{/if}

<Dialog.Root bind:open={making}>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
		<Dialog.Content
			class="fixed left-1/2 top-1/3 z-50 w-[420px] max-w-[calc(100vw-16px)] -translate-x-1/2 -translate-y-1/3 rounded-xl border border-rule bg-paper p-5"
		>
			<Dialog.Title class="text-base font-bold">New project</Dialog.Title>
			<form class="mt-3 flex flex-col gap-3" onsubmit={create}>
				<label class="flex flex-col gap-1">
					<span>Name</span>
					<input class="field" bind:value={name} required maxlength="120" />
				</label>
				<fieldset class="grid grid-cols-2 gap-2">
					<legend class="mb-1">Space</legend>
					{#each [{ value: 'world', title: 'World', text: '3D, metres, y up: for games' }, { value: 'interface', title: 'Interface', text: 'pixels, y down: for apps and pages' }] as const as option (option.value)}
						<label
							class="cursor-pointer rounded-md border p-2 {space === option.value
								? 'border-moss ring-1 ring-moss'
								: 'border-rule'}"
						>
							<input type="radio" class="mr-1" bind:group={space} value={option.value} /><strong
								>{option.title}</strong
							>
							<span class="block text-muted">{option.text}</span>
						</label>
					{/each}
				</fieldset>
				<label class="flex items-center gap-2">
					<span>Start with</span>
					<select class="field flex-1" bind:value={start}>
						{#each STARTS as { value, title } (value)}<option {value}>{title}</option>{/each}
					</select>
				</label>
				<div class="flex justify-end gap-2">
					<button type="button" class="btn" onclick={() => (making = false)}>Cancel</button>
					<button type="submit" class="btn btn-main" disabled={name.trim() === ''}>Create</button>
				</div>
			</form>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>

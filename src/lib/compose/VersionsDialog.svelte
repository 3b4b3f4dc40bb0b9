<script lang="ts">
	import { VList } from 'virtua/svelte';
	import { toast } from 'svelte-sonner';
	import { api, type Answer, type JournalEntry } from '$lib/api/client';
	import { useSession } from '$lib/session/session.svelte';
	import Sheet from '$lib/ui/Sheet.svelte';
	import VersionRow from './VersionRow.svelte';

	/** The edits of the project, newest first: what it was after any of them can be pinned, named and brought back. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	let rows = $state.raw<JournalEntry[] | null>(null);
	let wrong = $state<string | null>(null);
	let isNamedOnly = $state(false);
	/** The revision that the project is at. */
	let now = $state(0);
	/** The revision that is fetched. */
	let busy = $state<number | null>(null);
	let naming = $state<number | null>(null);
	/** Longest label of an edit. */
	const LABEL = 200;
	/** Height of an edit in the list. */
	const ROW = 45;

	const oldest = $derived(rows?.at(-1)?.revision ?? null);
	const hasOlder = $derived(!isNamedOnly && oldest !== null && oldest > 1);

	function value<T>(answer: Answer<T>): T | null {
		if (answer.ok) return answer.value;
		toast.error(answer.problem.title, { description: answer.problem.detail });
		return null;
	}
	async function load() {
		rows = wrong = naming = null;
		const named = isNamedOnly;
		await Promise.all([session.saver.flushed(), renaming]);
		const answer = await api.journal(session.project.id, named ? { named } : {});
		if (named !== isNamedOnly) return;
		if (answer.ok) {
			rows = answer.value.rows;
			now = session.saver.sync.revision;
		} else wrong = `${answer.problem.title}. ${answer.problem.detail}`;
	}
	$effect(() => {
		if (open) void load();
		else isNamedOnly = false;
	});
	async function older() {
		const answer = value(await api.journal(session.project.id, { upTo: oldest! - 1 }));
		if (answer && rows) rows = [...rows, ...answer.rows];
	}

	async function fetched(revision: number) {
		busy = revision;
		const answer = value(await api.version(session.project.id, revision));
		busy = null;
		return answer?.doc ?? null;
	}
	async function pin(revision: number, what: string) {
		const doc = await fetched(revision);
		if (!doc) return;
		if (session.pinVersion(doc)) {
			toast(`Pinned: ${what}`, { description: 'Shift+P swaps it with what is there now.' });
			open = false;
		} else toast('This clip was not there yet at that time');
	}
	async function restore(revision: number, what: 'clip' | 'project', as: string) {
		const doc = await fetched(revision);
		if (!doc) return;
		const label = `Restore ${what === 'clip' ? session.clip?.name : 'the project'} as after “${as}”`;
		const done = session.restoreVersion(doc, what, label.slice(0, LABEL));
		if (done === 'absent') toast('This clip was not there yet at that time');
		else if (done === 'same') toast(`Nothing to restore: the ${what} is still as it was then`);
		else {
			toast(`Restored as after “${as}”`, { description: 'An edit like any other: undo takes it back.' });
			open = false;
		}
	}
	/** The name that is on its way. */
	let renaming: Promise<unknown> = Promise.resolve();
	async function rename(revision: number, name: string | null) {
		const sent = api.nameVersion(session.project.id, revision, name);
		renaming = sent;
		const answer = await sent;
		if (!answer.ok) toast.error(answer.problem.title, { description: answer.problem.detail });
		else rows = rows?.map((row) => (row.revision === revision ? { ...row, name } : row)) ?? null;
	}
</script>

<Sheet
	bind:open
	title="Versions"
	about="The project after each edit. A pinned version shows as a dotted ridge and a pale twin until you unpin it."
	closing="Close"
	width="w-[760px]"
	staysOnEscape={naming !== null}
>
	<label class="mt-2 flex items-center gap-2 self-start">
		<input type="checkbox" bind:checked={isNamedOnly} /> Named versions only
	</label>
	<div
		class="mt-2 min-h-[120px] rounded-md border border-rule"
		role={rows && rows.length > 0 && !wrong ? 'list' : undefined}
		aria-label={rows && rows.length > 0 && !wrong ? 'versions, newest first' : undefined}
	>
		{#if wrong}
			<p class="p-3 text-rust">{wrong} <button type="button" class="btn" onclick={load}>Try again</button></p>
		{:else if rows === null}
			<p class="p-3 text-muted">Reading the versions …</p>
		{:else if rows.length === 0}
			<p class="p-3 text-muted">
				{isNamedOnly
					? 'No version has a name yet: the tag beside a version gives it one.'
					: 'No edits yet. Every edit from now on stands here.'}
			</p>
		{:else}
			<VList
				data={rows}
				getKey={(row) => row.revision}
				style="height: min({rows.length * ROW}px, 52vh)"
				itemSize={ROW}
			>
				{#snippet children(row)}
					<VersionRow
						{row}
						isNow={row.revision === now}
						busy={busy !== null}
						bind:isNaming={() => naming === row.revision, (is) => (naming = is ? row.revision : null)}
						onpin={() => pin(row.revision, row.name ?? row.label)}
						onrestore={(what) => restore(row.revision, what, row.name ?? row.label)}
						onname={(name) => rename(row.revision, name)}
					/>
				{/snippet}
			</VList>
			{#if hasOlder}
				<div class="px-3 py-1.5" role="listitem">
					<button type="button" class="btn" onclick={older}>Show older</button>
				</div>
			{:else if !isNamedOnly}
				<div class="flex items-center gap-2 px-3 py-1.5" role="listitem">
					<span class="flex-1 text-muted">The beginning, before “{rows.at(-1)!.label}”</span>
					<button
						type="button"
						class="btn"
						disabled={busy !== null}
						onclick={() => pin(oldest! - 1, 'the beginning')}>Pin</button
					>
					<button
						type="button"
						class="btn"
						disabled={busy !== null}
						onclick={() => restore(oldest! - 1, 'clip', 'the beginning')}>Restore clip</button
					>
					<button
						type="button"
						class="btn"
						disabled={busy !== null}
						onclick={() => restore(oldest! - 1, 'project', 'the beginning')}>Restore project</button
					>
				</div>
			{/if}
		{/if}
	</div>
</Sheet>

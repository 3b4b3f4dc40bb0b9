<script lang="ts">
	import { toast } from 'svelte-sonner';
	import { api, type JournalEntry } from '$lib/api/client';
	import { useSession } from '$lib/session/session.svelte';
	import { VList } from 'virtua/svelte';
	import Sheet from '$lib/ui/Sheet.svelte';

	/** The edits of the project, newest first; the open clip can be pinned as it was after any of them. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	let rows = $state.raw<JournalEntry[] | null>(null);
	let wrong = $state<string | null>(null);
	/** Height of an edit in the list. */
	const ROW = 34;
	let busy = $state<number | null>(null);

	async function load() {
		rows = wrong = null;
		await session.saver.flushed();
		const answer = await api.journal(session.project.id);
		if (answer.ok) rows = answer.value.rows;
		else wrong = `${answer.problem.title}. ${answer.problem.detail}`;
	}
	$effect(() => {
		if (open) void load();
	});

	async function pin(revision: number, what: string) {
		busy = revision;
		const answer = await api.version(session.project.id, revision);
		busy = null;
		if (!answer.ok) {
			toast.error(answer.problem.title, { description: answer.problem.detail });
			return;
		}
		if (session.pinVersion(answer.value.doc)) {
			toast(`Pinned: ${what}`, { description: 'Shift+P swaps it with what is there now.' });
			open = false;
		} else toast('This clip was not there yet at that time');
	}
	const when = (text: string) =>
		new Date(text).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });
	const KINDS: Record<JournalEntry['kind'], string> = { edit: '', undo: 'undone: ', redo: 'redone: ' };
</script>

<Sheet
	bind:open
	title="Earlier versions"
	about={`Pin "${session.clip?.name ?? ''}" as it was after an edit: it shows as a dotted ridge and a pale twin until you unpin it.`}
	closing="Close"
>
	<div class="mt-3 min-h-[120px] rounded-md border border-rule" role="list" aria-label="edits, newest first">
		{#if wrong}
			<p class="p-3 text-rust">{wrong}</p>
		{:else if rows === null}
			<p class="p-3 text-muted">Reading the journal …</p>
		{:else}
			<VList
				data={rows}
				getKey={(row) => row.revision}
				style="height: min({rows.length * ROW}px, 56vh)"
				itemSize={ROW}
			>
				{#snippet children(row, i)}
					<div
						class="flex items-center gap-2 border-b border-rule px-3"
						style:height="{ROW}px"
						role="listitem"
					>
						<span class="min-w-0 flex-1 truncate" title={row.label}>{KINDS[row.kind]}{row.label}</span>
						<time class="text-xs text-muted" datetime={row.made_at}>{when(row.made_at)}</time>
						<button
							type="button"
							class="btn !min-h-[24px]"
							disabled={i === 0 || busy !== null}
							title={i === 0 ? 'This is how it is now' : undefined}
							aria-label="pin the version after {row.label}, edit {row.revision}"
							onclick={() => pin(row.revision, row.label)}
							>{i === 0 ? 'now' : busy === row.revision ? '…' : 'pin'}</button
						>
					</div>
				{/snippet}
			</VList>
			<div class="flex items-center gap-2 px-3 py-1" role="listitem">
				<span class="flex-1 text-muted"
					>as it was before {rows.length === 0 ? 'any edit' : `"${rows.at(-1)!.label}"`}</span
				>
				<button
					type="button"
					class="btn !min-h-[24px]"
					disabled={rows.length === 0 || busy !== null}
					onclick={() => pin(rows!.at(-1)!.revision - 1, 'the version before')}>pin</button
				>
			</div>
		{/if}
	</div>
</Sheet>

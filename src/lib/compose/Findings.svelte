<script lang="ts">
	import { onDestroy } from 'svelte';
	import { toast } from 'svelte-sonner';
	import type { Finding } from '$core/check/finding';
	import { isAboutTheSame, markIntended, markOn, unmark } from '$core/check/intended';
	import { groupFindings, mendFinding, mendFindings, placeOf, tellFinding } from '$core/check/tell';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { BackgroundChecks } from '$lib/workers/checks.svelte';
	import { FIRST_PAGE, PAGE_OF_RULE } from '$lib/ui/guide-pages';
	import { writeNumber } from '$lib/ui/number-text';
	import Popover from '$lib/ui/Popover.svelte';

	const session = useSession();
	const checks = new BackgroundChecks(() => (session.project.isDragging ? null : session.doc));
	const marked = $derived(
		checks.findings.map((finding) => ({ finding, mark: markOn(session.doc, finding) })),
	);
	const findings = $derived(marked.filter(({ mark }) => !mark).map(({ finding }) => finding));
	const groups = $derived(groupFindings(session.doc, findings));
	const intended = $derived(marked.flatMap(({ finding, mark }) => (mark ? [{ finding, mark }] : [])));
	/** The finding that somebody says a reason for; it is found anew after each edit, in whichever window. */
	let judged = $state.raw<Finding | null>(null);
	let reason = $state('');

	$effect(() => {
		void session.doc;
		checks.lookSoon(session.clipId);
	});
	onDestroy(() => checks.destroy());

	function mend(finding: Finding, id: string, label: string) {
		const mended = mendFinding(session.doc, finding, id);
		if (mended) session.edit(label, () => mended);
		else toast('The clip has changed since: look at the new issues');
	}

	function mendAll(all: readonly Finding[], id: string, label: string) {
		const mended = mendFindings(session.doc, all, id);
		if (mended) session.edit(label, () => mended);
		else toast('The clip has changed since: look at the new issues');
	}

	function intend(event: SubmitEvent, finding: Finding) {
		event.preventDefault();
		const why = reason.trim();
		session.edit('Mark as intended', (doc) => markIntended(doc, finding, why));
		judged = null;
	}

	const worst = $derived(findings.some((finding) => finding.severity !== 'note'));

	/** Within the clip that is open. */
	function place(finding: Finding): string {
		return placeOf(session.doc, finding).split(' / ').slice(1).join(' / ') || 'whole clip';
	}
	function show(finding: Finding) {
		session.transport.stop();
		session.transport.seek(finding.t);
		if (finding.channel === null || !session.doc.channels[finding.channel]) return;
		session.selection.pickChannel(finding.channel);
		const key = session.doc.channels[finding.channel].keys.findLast((k) => k.t <= finding.t);
		if (key) session.selection.pickKeys(new Map([[finding.channel, new Set([key.t])]]));
	}
</script>

{#snippet item(finding: Finding)}
	{@const told = tellFinding(session.doc, finding)}
	<li class="border-b border-rule px-3 py-2 last:border-b-0">
		<div class="flex items-baseline gap-2">
			<button
				type="button"
				class="min-w-0 flex-1 text-left font-semibold hover:underline {finding.severity === 'note'
					? ''
					: 'text-rust'}"
				onclick={() => show(finding)}>{told.title}</button
			>
			<span class="font-mono text-xs text-muted"
				>frame {writeNumber(ticksToFrame(finding.t, session.frameRate), 1)}</span
			>
		</div>
		<p>{place(finding)}: {told.measure}</p>
		<p class="text-muted">
			{told.why}
			<button
				type="button"
				class="underline hover:text-ink"
				onclick={() => (session.asks.guidePage = PAGE_OF_RULE[finding.rule] ?? FIRST_PAGE)}>Learn more</button
			>
		</p>
		{#each told.mends as { id, label } (id)}
			<button type="button" class="btn mr-1 mt-1 !min-h-[24px]" onclick={() => mend(finding, id, label)}
				>{label}</button
			>
		{/each}
		{#if judged && isAboutTheSame(session.doc, judged, finding)}
			<form class="mt-1 flex items-center gap-1" onsubmit={(event) => intend(event, finding)}>
				<input
					class="field min-w-0 flex-1"
					aria-label="why it is meant to be so"
					placeholder="why it is meant to be so"
					maxlength="500"
					bind:value={reason}
					{@attach (element) => element.focus()}
					onkeydown={(event) => {
						if (event.key !== 'Escape') return;
						event.stopPropagation();
						judged = null;
					}}
				/>
				<button type="submit" class="btn !min-h-[24px]">Save</button>
			</form>
		{:else}
			<button
				type="button"
				class="btn btn-plain mt-1 !min-h-[24px]"
				onclick={() => ((judged = finding), (reason = ''))}>Intended …</button
			>
		{/if}
	</li>
{/snippet}

<Popover
	label="checks: {findings.length}"
	class="flex min-h-[24px] items-center rounded px-1.5 hover:bg-band {worst
		? 'font-semibold text-rust'
		: 'text-muted'}"
	contentClass="w-[440px] !max-h-[60vh] !p-0"
	align="start"
>
	{#snippet trigger()}
		{findings.length === 0 ? 'No issues' : findings.length === 1 ? '1 issue' : `${findings.length} issues`}
	{/snippet}
	<h2 class="sheet-title border-b border-rule px-3 py-2">Checks</h2>
	{#if findings.length === 0}
		<p class="px-3 py-3 text-muted">No issues in this clip.</p>
	{/if}
	<ul>
		{#each groups as group (group.findings[0].rule)}
			{#if group.isMany}
				<li class="border-b border-rule px-3 py-2 last:border-b-0">
					<details>
						<summary class="cursor-pointer"
							><span
								class="font-semibold {group.findings.some(({ severity }) => severity !== 'note')
									? 'text-rust'
									: ''}">{group.title}</span
							> <span class="text-muted">in {group.findings.length} places</span></summary
						>
						<ul class="mt-1 border-l border-rule">
							{#each group.findings as finding, i (`${finding.channel} ${finding.t} ${i}`)}
								{@render item(finding)}
							{/each}
						</ul>
					</details>
					{#each group.mends as { id, label } (id)}
						<button
							type="button"
							class="btn mr-1 mt-1 !min-h-[24px]"
							onclick={() => mendAll(group.findings, id, label)}>{label}: all {group.findings.length}</button
						>
					{/each}
				</li>
			{:else}
				{#each group.findings as finding, i (`${finding.channel} ${finding.t} ${i}`)}
					{@render item(finding)}
				{/each}
			{/if}
		{/each}
	</ul>
	{#if intended.length > 0}
		<details class="border-t border-rule px-3 py-2">
			<summary class="cursor-pointer text-muted">{intended.length} intended</summary>
			<ul>
				{#each intended as { finding, mark }, i (finding.rule + finding.channel + i)}
					<li class="mt-1.5 flex items-baseline gap-2">
						<p class="min-w-0 flex-1">
							{tellFinding(session.doc, finding).title}, {place(finding)}{#if mark.reason}: <span
									class="text-muted">{mark.reason}</span
								>{/if}
						</p>
						<button
							type="button"
							class="btn !min-h-[24px]"
							onclick={() => session.edit('Count an issue again', (doc) => unmark(doc, finding, mark))}
							>Count again</button
						>
					</li>
				{/each}
			</ul>
		</details>
	{/if}
</Popover>

<script lang="ts">
	import { onDestroy } from 'svelte';
	import { toast } from 'svelte-sonner';
	import type { Finding } from '$core/check/finding';
	import { mendFinding, placeOf, tellFinding } from '$core/check/tell';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { BackgroundChecks } from '$lib/workers/checks.svelte';
	import { writeNumber } from '$lib/ui/number-text';
	import Popover from '$lib/ui/Popover.svelte';

	const session = useSession();
	const checks = new BackgroundChecks(() => (session.project.isDragging ? null : session.doc));
	const findings = $derived(checks.findings);
	$effect(() => {
		void session.doc;
		checks.lookSoon(session.clipId);
	});
	onDestroy(() => checks.destroy());

	function mend(finding: Finding, id: string, label: string) {
		const mended = mendFinding(session.doc, finding, id);
		if (mended) session.edit(label, () => mended);
		else toast('The clip has changed since: look at the new findings');
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

<Popover
	label="checks: {findings.length}"
	class="flex min-h-6 items-center rounded px-1.5 hover:bg-band {worst
		? 'font-semibold text-rust'
		: 'text-muted'}"
	contentClass="w-[440px] !max-h-[60vh] !p-0"
	align="start"
>
	{#snippet trigger()}
		{findings.length === 0
			? 'no findings'
			: findings.length === 1
				? '1 finding'
				: `${findings.length} findings`}
	{/snippet}
	<h2 class="sheet-title border-b border-rule px-3 py-2">Checks</h2>
	{#if findings.length === 0}
		<p class="px-3 py-3 text-muted">Nothing that a viewer would stumble over.</p>
	{/if}
	<ul>
		{#each findings as finding, i (finding.rule + finding.channel + i)}
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
						>f {writeNumber(ticksToFrame(finding.t, session.frameRate), 1)}</span
					>
				</div>
				<p>{place(finding)}: {told.measure}</p>
				<p class="text-muted">{told.why}</p>
				{#each told.mends as { id, label } (id)}
					<button type="button" class="btn mr-1 mt-1 !min-h-[24px]" onclick={() => mend(finding, id, label)}
						>{label}</button
					>
				{/each}
			</li>
		{/each}
	</ul>
</Popover>

<script lang="ts">
	import { onDestroy } from 'svelte';
	import { toast } from 'svelte-sonner';
	import { RULES } from '$core/check/finding';
	import { channelLabel } from '$core/document/types';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { BackgroundChecks } from '$lib/workers/checks.svelte';
	import { mendOf, type ToldFinding } from '$lib/workers/told-finding';
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

	/** The edit is made from the document as it is now; where that has changed under the finding, nothing happens. */
	function mend(finding: ToldFinding, label: string) {
		const found = mendOf(session.doc, finding, label);
		if (found) session.edit(label, found.edit);
		else toast('The clip has changed since: look at the new findings');
	}

	const worst = $derived(findings.some((finding) => finding.severity !== 'note'));

	function place(finding: ToldFinding): string {
		const { channels, formulas } = session.doc;
		const channel =
			finding.channel === null ? undefined : (channels[finding.channel] ?? formulas[finding.channel]);
		return channel
			? `${session.doc.parts[channel.part]?.name} / ${channelLabel(channel.property, channel.component, session.doc.parts[channel.part])}`
			: 'whole clip';
	}
	function show(finding: ToldFinding) {
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
			<li class="border-b border-rule px-3 py-2 last:border-b-0">
				<div class="flex items-baseline gap-2">
					<button
						type="button"
						class="min-w-0 flex-1 text-left font-semibold hover:underline {finding.severity === 'note'
							? ''
							: 'text-rust'}"
						onclick={() => show(finding)}>{RULES[finding.rule]}</button
					>
					<span class="font-mono text-xs text-muted"
						>f {writeNumber(ticksToFrame(finding.t, session.frameRate), 1)}</span
					>
				</div>
				<p>{place(finding)}: {finding.measure}</p>
				<p class="text-muted">{finding.why}</p>
				{#each finding.mends as label (label)}
					<button type="button" class="btn mr-1 mt-1 !min-h-[24px]" onclick={() => mend(finding, label)}
						>{label}</button
					>
				{/each}
			</li>
		{/each}
	</ul>
</Popover>

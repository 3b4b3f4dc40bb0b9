<script lang="ts">
	import { Popover } from 'bits-ui';
	import { RULES, type Finding } from '$core/check/finding';
	import { checkClip } from '$core/check/check';
	import { channelLabel } from '$core/document/types';
	import { ticksToFrame } from '$core/time';
	import { useSession } from '$lib/session/session.svelte';
	import { writeNumber } from './number-text';

	const session = useSession();
	let findings = $state.raw<Finding[]>([]);
	let timer: ReturnType<typeof setTimeout> | undefined;

	// After edits have come to rest, so that they never wait for it.
	$effect(() => {
		const { doc, clip } = session;
		clearTimeout(timer);
		timer = setTimeout(() => {
			if (!session.isDragging) findings = clip ? checkClip(doc, clip) : [];
		}, 300);
		return () => clearTimeout(timer);
	});

	const worst = $derived(findings.some((finding) => finding.severity !== 'note'));

	function place(finding: Finding): string {
		const { channels, formulas } = session.doc;
		const channel =
			finding.channel === null ? undefined : (channels[finding.channel] ?? formulas[finding.channel]);
		return channel
			? `${session.doc.parts[channel.part]?.name} / ${channelLabel(channel.property, channel.component)}`
			: 'whole clip';
	}
	function show(finding: Finding) {
		session.transport.stop();
		session.transport.seek(finding.t);
		if (finding.channel === null || !session.doc.channels[finding.channel]) return;
		session.pickChannel(finding.channel);
		const key = session.doc.channels[finding.channel].keys.findLast((k) => k.t <= finding.t);
		if (key) session.pickKeys(new Map([[finding.channel, new Set([key.t])]]));
	}
</script>

<Popover.Root>
	<Popover.Trigger
		class="flex min-h-6 items-center rounded px-1.5 hover:bg-band {worst
			? 'font-semibold text-rust'
			: 'text-muted'}"
		aria-label="checks: {findings.length}"
	>
		{findings.length === 0
			? 'no findings'
			: findings.length === 1
				? '1 finding'
				: `${findings.length} findings`}
	</Popover.Trigger>
	<Popover.Portal>
		<Popover.Content class="menu w-[440px] !max-h-[60vh] !p-0" side="top" align="start" sideOffset={6}>
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
						{#each finding.mends as mend (mend.label)}
							<button
								type="button"
								class="btn mr-1 mt-1 !min-h-[24px]"
								onclick={() => session.edit(mend.label, mend.edit)}>{mend.label}</button
							>
						{/each}
					</li>
				{/each}
			</ul>
		</Popover.Content>
	</Popover.Portal>
</Popover.Root>

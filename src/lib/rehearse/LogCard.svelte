<script lang="ts">
	import Copy from '@lucide/svelte/icons/copy';
	import { toast } from 'svelte-sonner';
	import type { LogKind, Trial } from './trial.svelte';

	/** What happened, the latest first. */
	let { trial }: { trial: Trial } = $props();
	const KINDS: readonly { kind: LogKind; word: string; class: string }[] = [
		{ kind: 'input', word: 'inputs', class: 'text-muted' },
		{ kind: 'trigger', word: 'triggers', class: 'text-moss' },
		{ kind: 'cue', word: 'cues', class: 'text-lake' },
		{ kind: 'message', word: 'messages', class: 'text-heather' },
		{ kind: 'end', word: 'ends', class: 'text-muted' },
	];
	let hidden = $state.raw<ReadonlySet<LogKind>>(new Set());
	const shown = $derived(trial.log.filter(({ kind }) => !hidden.has(kind)).reverse());
	const classOf = (kind: LogKind) => KINDS.find((own) => own.kind === kind)!.class;

	function toggle(kind: LogKind) {
		const next = new Set(hidden);
		if (!next.delete(kind)) next.add(kind);
		hidden = next;
	}
	function copy() {
		const text = [...shown]
			.reverse()
			.map(({ t, kind, text: told, payload }) => [t.toFixed(3), kind, told, payload]);
		navigator.clipboard.writeText(text.map((row) => row.join('\t')).join('\n')).then(
			() => toast('Copied'),
			() => toast.error('The browser does not let this page copy'),
		);
	}
</script>

<div class="flex min-h-0 flex-1 flex-col gap-1.5">
	<div class="flex flex-wrap items-center gap-1">
		{#each KINDS as { kind, word } (kind)}
			<button
				type="button"
				class="btn !min-h-[24px] text-xs {hidden.has(kind) ? 'text-muted line-through' : ''}"
				aria-pressed={!hidden.has(kind)}
				onclick={() => toggle(kind)}>{word}</button
			>
		{/each}
		<button
			type="button"
			class="btn btn-square ml-auto !min-h-[24px]"
			aria-label="copy the log"
			title="Copy what is shown"
			disabled={shown.length === 0}
			onclick={copy}><Copy size={13} /></button
		>
	</div>
	<ol class="min-h-0 flex-1 overflow-y-auto font-mono text-xs" data-log>
		{#each shown as { id, t, kind, text, payload } (id)}
			<li class="flex gap-2 border-b border-rule/60 py-0.5">
				<span class="w-[52px] shrink-0 text-right text-muted">{t.toFixed(2)} s</span>
				<span class="min-w-0 break-words"
					><span class={classOf(kind)}>{text}</span>{#if payload}
						<span class="text-muted">{payload}</span>{/if}</span
				>
			</li>
		{:else}
			<li class="py-2 font-sans text-muted">
				Nothing has happened yet. Tap a part, press a key, call a trigger.
			</li>
		{/each}
	</ol>
</div>

<script lang="ts">
	import Download from '@lucide/svelte/icons/download';
	import { writeNumber } from '$lib/ui/number-text';
	import type { FilmState } from './film-state.svelte';

	/** The film while it is made, and as it came out. */
	let { film }: { film: FilmState } = $props();
	const kilo = (bytes: number) => `${writeNumber(bytes / 1000, 1)} kB`;
</script>

{#if film.progress !== null}
	<div class="mb-3 flex items-center gap-3 rounded-md border border-rule px-3 py-2">
		<progress
			class="h-2 flex-1 accent-(--moss)"
			max="1"
			value={film.progress}
			aria-label="frames that are made"
		></progress>
		<span class="font-mono text-xs">{Math.round(100 * film.progress)} %</span>
		<button type="button" class="btn" onclick={() => film.cancel()}>Cancel</button>
	</div>
{/if}
{#if film.problem}
	<p class="mb-3 rounded-md border border-rust px-3 py-1.5 text-rust" role="alert">{film.problem}</p>
{/if}
{#if film.film}
	{@const { url, fileName, bytes, frames, kind } = film.film}
	<div class="mb-3 flex items-start gap-5">
		<div>
			<h2 class="text-lg font-bold">{fileName}</h2>
			<p class="text-muted">{kilo(bytes)}, {frames} frames</p>
		</div>
		<a
			class="btn btn-main ml-auto min-h-[34px] shrink-0"
			href={url}
			download={fileName}
			aria-label="Download {fileName}"><Download size={15} />Download</a
		>
	</div>
	{#if kind.isVideo}
		<video
			class="max-h-[520px] max-w-full rounded-md border border-rule"
			src={url}
			controls
			loop
			autoplay
			muted
		></video>
	{:else if kind.id !== 'png'}
		<img class="film max-h-[520px] max-w-full rounded-md border border-rule" src={url} alt={fileName} />
	{:else}
		<p class="text-muted">The zip holds {frames} pictures, 0000.png and so on.</p>
	{/if}
{:else if film.progress === null}
	<div class="flex h-full flex-col items-center justify-center gap-1 text-center text-muted">
		<p class="text-base font-semibold text-ink">No film yet</p>
		<p class="max-w-[440px]">
			A clip as it looks on the stage, without grid and handles: to show, to put into a report or a page. It
			is made here, by this browser.
		</p>
	</div>
{/if}

<style>
	/* What is clear shows as squares. */
	.film {
		background: repeating-conic-gradient(var(--rule) 0 25%, var(--sheet) 0 50%) 0 0 / 16px 16px;
	}
</style>

<script lang="ts">
	import type { Mended } from '$lib/api/mended';
	import { dateAndTime } from '$lib/ui/dates';

	/** What came of a damaged database, until somebody has read it. */
	let { mended, onread }: { mended: Mended; onread: () => void } = $props();

	const when = dateAndTime();
	const of = (how: Mended['projects'][number]['how']) => mended.projects.filter((own) => own.how === how);
	const whole = $derived(of('whole').length);
	const groups = $derived(
		[
			{ title: 'From a backup: edits since then are gone', all: of('from a backup') },
			{ title: 'As it was, but without its versions and undo', all: of('without history') },
			{
				title: 'Pictures, films, sounds or models are gone: the stage says which',
				all: mended.projects.filter(({ lostFiles = 0 }) => lostFiles > 0),
			},
			{ title: 'Lost: in no backup either', all: of('lost') },
		].filter(({ all }) => all.length > 0),
	);
</script>

<section class="mb-4 rounded-lg border border-rust bg-sheet px-4 py-3" aria-label="the database was damaged">
	<h2 class="font-bold text-rust">The database was damaged</h2>
	<p>
		{whole === 0 ? 'No project is' : whole === 1 ? 'One project is' : `${whole} projects are`} as before. The damaged
		file is kept as
		<code class="font-mono text-xs break-all">{mended.kept}</code>.
		{mended.isListed ? '' : 'The list of projects could not be read whole: there may have been others.'}
	</p>
	{#each groups as { title, all } (title)}
		<p class="mt-1 font-semibold">{title}</p>
		<ul class="list-disc pl-5">
			{#each all as { name, madeAt }, i (i)}
				<li>{name}{madeAt ? `, ${when.format(new Date(madeAt))}` : ''}</li>
			{/each}
		</ul>
	{/each}
	<button type="button" class="btn mt-2" onclick={onread}>I have read this</button>
</section>

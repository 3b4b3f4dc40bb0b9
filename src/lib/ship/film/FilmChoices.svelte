<script lang="ts">
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { FILM_KINDS } from './encoders';
	import { GROUNDS, type FilmState } from './film-state.svelte';
	import { MOST_SIDE } from './frames';

	/** How a film is made. */
	let { film }: { film: FilmState } = $props();
	const session = useSession();
	const clips = $derived(session.project.clips);
	const goesRound = $derived(film.clip !== null && film.clip.loop.mode !== 'once');
	const FIELD = 'w-[84px]';
	const ROW = 'flex items-center justify-between gap-2';
</script>

<div class="flex flex-col gap-1.5" aria-label="film" role="group">
	<label class={ROW}
		><span>clip</span>
		<select
			class="field w-[180px]"
			aria-label="clip of the film"
			value={film.clip?.id}
			onchange={(event) => (film.clipId = event.currentTarget.value)}
		>
			{#each clips as { id, name } (id)}<option value={id}>{name}</option>{/each}
		</select></label
	>
	<label class={ROW}
		><span>as</span>
		<select
			class="field w-[180px]"
			aria-label="kind of the film"
			value={film.kind.id}
			onchange={(event) =>
				(film.kind = FILM_KINDS.find(({ id }) => id === event.currentTarget.value) ?? FILM_KINDS[0])}
		>
			{#each FILM_KINDS as { id, name } (id)}<option value={id}>{name}</option>{/each}
		</select></label
	>
	<label class={ROW}
		><span>width</span>
		<NumberField
			label="width of the film"
			value={film.width}
			unit=" px"
			digits={0}
			min={16}
			max={MOST_SIDE}
			step={1}
			class={FIELD}
			oncommit={(v) => (film.width = Math.round(v))}
		/></label
	>
	<label class={ROW}
		><span>height</span>
		<NumberField
			label="height of the film"
			value={film.height}
			unit=" px"
			digits={0}
			min={16}
			max={MOST_SIDE}
			step={1}
			class={FIELD}
			oncommit={(v) => (film.height = Math.round(v))}
		/></label
	>
	<label class={ROW}
		><span>frames a second</span>
		<NumberField
			label="frames a second of the film"
			value={film.rate}
			digits={0}
			min={1}
			max={100}
			step={1}
			class={FIELD}
			oncommit={(v) => (film.rate = Math.round(v))}
		/></label
	>
	<label class={ROW}
		><span>speed</span>
		<NumberField
			label="speed of the film"
			value={film.speed}
			unit=" ×"
			digits={2}
			min={0.05}
			max={8}
			step={0.05}
			class={FIELD}
			oncommit={(v) => (film.speed = v)}
		/></label
	>
	{#if goesRound}
		<label class={ROW}
			><span>rounds</span>
			<NumberField
				label="rounds of the film"
				value={film.rounds}
				digits={0}
				min={1}
				max={50}
				step={1}
				class={FIELD}
				oncommit={(v) => (film.rounds = Math.round(v))}
			/></label
		>
	{/if}
	<label class={ROW}
		><span title="Each frame is the mean of so many pictures over half of its time"
			>motion blur, pictures a frame</span
		>
		<NumberField
			label="pictures a frame, for motion blur"
			value={film.blur}
			digits={0}
			min={1}
			max={32}
			step={1}
			class={FIELD}
			oncommit={(v) => (film.blur = Math.round(v))}
		/></label
	>
	<label class={ROW}
		><span>ground</span>
		<select
			class="field w-[120px]"
			aria-label="ground of the film"
			value={film.ground}
			onchange={(event) => (film.ground = event.currentTarget.value as FilmState['ground'])}
		>
			{#each GROUNDS as ground (ground)}
				<option value={ground} disabled={ground === 'clear' && !film.kind.hasAlpha}
					>{ground === 'clear' ? 'none (clear)' : ground}</option
				>
			{/each}
		</select></label
	>
	<p class={film.cannot ? 'text-rust' : 'text-muted'} role="status">
		{film.cannot || `${film.frames} frames`}
	</p>
</div>

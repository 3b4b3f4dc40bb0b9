<script lang="ts">
	import { useSession } from '$lib/session/session.svelte';
	import NumberField from '$lib/ui/NumberField.svelte';
	import { FILM_KINDS } from './encoders';
	import { GROUNDS, type FilmState } from './film-state.svelte';
	import { MOST_SIDE } from './options';

	/** How a film is made. */
	let { film }: { film: FilmState } = $props();
	const session = useSession();
	const clips = $derived(session.project.clips);
	const goesRound = $derived(film.clip !== null && film.clip.loop.mode !== 'once');
	const whole = { unit: '', digits: 0, step: 1, title: undefined };
	const pixels = { ...whole, unit: ' px', min: 16, max: MOST_SIDE };
	const numbers = $derived([
		{ ...pixels, key: 'width', says: 'width', label: 'width of the film' },
		{ ...pixels, key: 'height', says: 'height', label: 'height of the film' },
		{
			...whole,
			key: 'rate',
			says: 'frame rate',
			label: 'frame rate of the film',
			unit: ' fps',
			min: 1,
			max: 100,
		},
		{
			...whole,
			key: 'speed',
			says: 'speed',
			label: 'speed of the film',
			unit: ' ×',
			digits: 2,
			min: 0.05,
			max: 8,
			step: 0.05,
		},
		...(goesRound
			? [
					{
						...whole,
						key: 'rounds',
						says: 'iterations',
						label: 'iterations of the film',
						min: 1,
						max: 50,
					} as const,
				]
			: []),
		{
			...whole,
			key: 'blur',
			says: 'motion blur, pictures a frame',
			label: 'pictures a frame, for motion blur',
			title: 'Each frame is the mean of so many pictures over half of its time',
			min: 1,
			max: 32,
		},
	] as const);
	const ROW = 'flex items-center justify-between gap-2';
</script>

<div class="flex flex-col gap-1.5" aria-label="film" role="group">
	<label class={ROW}
		><span>clip</span>
		<select
			class="field w-[180px]"
			aria-label="clip of the film"
			value={film.clip?.id}
			onchange={(event) => film.chooseClip(event.currentTarget.value)}
		>
			{#each clips as { id, name } (id)}<option value={id}>{name}</option>{/each}
		</select></label
	>
	<div class={ROW}>
		<span>frames</span>
		<span class="flex items-center gap-1">
			<NumberField
				label="first frame of the film"
				value={film.from}
				digits={1}
				min={0}
				max={film.lastFrame}
				step={1}
				class="w-[70px]"
				oncommit={(v) => (film.from = v)}
			/>
			to
			<NumberField
				label="last frame of the film"
				value={film.to ?? film.lastFrame}
				digits={1}
				min={0}
				max={film.lastFrame}
				step={1}
				class="w-[70px]"
				oncommit={(v) => (film.to = v >= film.lastFrame ? null : v)}
			/>
		</span>
	</div>
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
	{#each numbers as { key, says, label, title, unit, digits, min, max, step } (key)}
		<label class={ROW}
			><span {title}>{says}</span>
			<NumberField
				{label}
				value={film[key]}
				{unit}
				{digits}
				{min}
				{max}
				{step}
				class="w-[84px]"
				oncommit={(v) => (film[key] = digits === 0 ? Math.round(v) : v)}
			/></label
		>
	{/each}
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

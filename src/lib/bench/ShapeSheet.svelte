<script lang="ts">
	import type { Shape } from '$core/curve/types';
	import { isChosen, SHAPE_SHEET, thumbnail } from './shapes';

	let { shape, onchoose }: { shape: Shape | null; onchoose: (shape: Shape) => void } = $props();
	const pictures = SHAPE_SHEET.map((choice) => thumbnail(choice.shape));
</script>

<div class="grid grid-cols-7 gap-1" role="group" aria-label="shapes">
	{#each SHAPE_SHEET as choice, i (choice.name)}
		{@const chosen = shape !== null && isChosen(choice, shape)}
		<button
			type="button"
			class="flex min-w-0 flex-col items-center rounded-md border bg-sheet px-0.5 pb-0.5 pt-1 {chosen
				? 'border-moss ring-1 ring-moss'
				: 'border-rule hover:border-muted'}"
			aria-pressed={chosen}
			title={choice.shortcut ? `${choice.name} (${choice.shortcut})` : choice.name}
			onclick={() => onchoose(choice.shape)}
		>
			<svg viewBox="0 0 56 30" class="h-[26px] w-full max-w-[52px]" aria-hidden="true">
				<path d={pictures[i].area} fill="var(--moss)" opacity="0.2" />
				<path d={pictures[i].line} fill="none" stroke="var(--moss)" stroke-width="1.6" />
			</svg>
			<span class="w-full truncate text-center text-xs leading-tight">{choice.name}</span>
		</button>
	{/each}
</div>

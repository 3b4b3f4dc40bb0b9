<script lang="ts">
	import { Dialog } from 'bits-ui';
	import type { Command } from '$lib/session/commands';

	let { open = $bindable(false), commands }: { open: boolean; commands: readonly Command[] } = $props();
	const groups = $derived([...new Set(commands.map((command) => command.group))]);
</script>

<Dialog.Root bind:open>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
		<Dialog.Content
			class="fixed left-1/2 top-1/2 z-50 max-h-[86vh] w-[820px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-xl border border-rule bg-paper p-5"
		>
			<Dialog.Title class="text-base font-bold">Shortcuts</Dialog.Title>
			<div class="mt-3 columns-2 gap-8">
				{#each groups as group (group)}
					<section class="mb-4 break-inside-avoid">
						<h3 class="sheet-title mb-1">{group}</h3>
						<ul>
							{#each commands.filter((command) => command.group === group && command.shown) as command (command.id)}
								<li class="flex justify-between gap-4 border-b border-rule py-0.5">
									<span>{command.label}</span><kbd class="shortcut">{command.shown}</kbd>
								</li>
							{/each}
						</ul>
					</section>
				{/each}
				<section class="mb-4 break-inside-avoid">
					<h3 class="sheet-title mb-1">Pointer</h3>
					<ul>
						{#each [['drag a key', 'move it'], ['Shift while dragging', 'hold one axis'], ['Ctrl while dragging', 'no snapping'], ['drag a span up or down', 'bend it'], ['double-click a lane', 'new key'], ['drag on the ground', 'pick keys'], ['Ctrl+wheel', 'zoom time'], ['Shift+wheel', 'move in time']] as [what, does] (what)}
							<li class="flex justify-between gap-4 border-b border-rule py-0.5">
								<span>{what}</span><span class="text-muted">{does}</span>
							</li>
						{/each}
					</ul>
				</section>
			</div>
			<Dialog.Close class="btn">Close</Dialog.Close>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>

<script lang="ts">
	import { Command as Palette, computeCommandScore, Dialog } from 'bits-ui';
	import { useSession } from '$lib/session/session.svelte';
	import type { Command } from '$lib/ui/command';

	/** Everything that can be done, and every clip and part, by a few letters. */
	let {
		open = $bindable(false),
		commands,
		onclip,
	}: { open: boolean; commands: readonly Command[]; onclip: (id: string) => void } = $props();
	const session = useSession();

	/** Every word that was typed is in it, in any order; the score puts the nearest first. */
	function filter(value: string, search: string): number {
		const text = value.toLowerCase();
		const words = search.toLowerCase().split(/\s+/);
		return words.every((word) => text.includes(word))
			? Math.max(0.01, computeCommandScore(value, search))
			: 0;
	}
	function choose(run: () => void) {
		open = false;
		run();
	}
</script>

<Dialog.Root bind:open>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/30" />
		<Dialog.Content
			class="fixed left-1/2 top-[14vh] z-50 w-[560px] max-w-[94vw] -translate-x-1/2 overflow-hidden rounded-xl border border-rule bg-paper"
		>
			<Dialog.Title class="sr-only">Find anything</Dialog.Title>
			<Palette.Root label="find anything" {filter}>
				<Palette.Input
					class="w-full border-b border-rule bg-paper px-4 py-3 text-base outline-none"
					placeholder="A command, a clip, a part"
					aria-label="find anything"
				/>
				<Palette.List class="max-h-[56vh] overflow-y-auto p-1">
					<Palette.Viewport>
						<Palette.Empty class="px-3 py-4 text-muted">Nothing is called that.</Palette.Empty>
						<Palette.Group>
							<Palette.GroupHeading class="px-3 pb-1 pt-2 text-xs text-muted">Clips</Palette.GroupHeading>
							<Palette.GroupItems>
								{#each session.project.clips as clip (clip.id)}
									<Palette.Item
										class="finder-item"
										value="clip {clip.name} {clip.id}"
										onSelect={() => choose(() => onclip(clip.id))}
										>{clip.name}<span class="shortcut">clip</span></Palette.Item
									>
								{/each}
							</Palette.GroupItems>
						</Palette.Group>
						<Palette.Group>
							<Palette.GroupHeading class="px-3 pb-1 pt-2 text-xs text-muted">Commands</Palette.GroupHeading>
							<Palette.GroupItems>
								{#each commands as command (command.id)}
									<Palette.Item
										class="finder-item"
										value="{command.label} {command.id}"
										disabled={!command.can()}
										onSelect={() => choose(command.run)}
										>{command.label}<span class="shortcut">{command.shown}</span></Palette.Item
									>
								{/each}
							</Palette.GroupItems>
						</Palette.Group>
						<Palette.Group>
							<Palette.GroupHeading class="px-3 pb-1 pt-2 text-xs text-muted">Parts</Palette.GroupHeading>
							<Palette.GroupItems>
								{#each session.project.tree as { part } (part.id)}
									<Palette.Item
										class="finder-item"
										value="part {part.name} {part.id}"
										onSelect={() => choose(() => session.selection.pickPart(part.id))}
										>{part.name}<span class="shortcut">part</span></Palette.Item
									>
								{/each}
							</Palette.GroupItems>
						</Palette.Group>
					</Palette.Viewport>
				</Palette.List>
			</Palette.Root>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>

<script lang="ts">
	import { Command as Palette, Dialog } from 'bits-ui';
	import { SYNONYMS } from '$lib/acts/synonyms';
	import { useSession } from '$lib/session/session.svelte';
	import type { Command } from '$lib/ui/command';
	import { rankOf } from '$lib/ui/find';

	/** Everything that can be done, and every clip and part, by a few letters. */
	let {
		open = $bindable(false),
		commands,
		onclip,
		hasParts = true,
	}: {
		open: boolean;
		commands: readonly Command[];
		onclip: (id: string) => void;
		/** Whether parts can be picked where it is opened. */
		hasParts?: boolean;
	} = $props();
	const session = useSession();

	/** The list wants scores in 0…1. */
	const filter = (value: string, search: string, words: string[] = []) => {
		const [label = value, ...others] = words;
		return rankOf({ label, words: others }, search) / 10;
	};
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
					placeholder={hasParts ? 'A command, a clip, a part' : 'A command, a clip'}
					aria-label="find anything"
				/>
				<Palette.Empty class="px-4 py-4 text-muted">No results.</Palette.Empty>
				<!-- A list without an option would be none. -->
				<Palette.List
					tabindex={0}
					class="max-h-[56vh] overflow-y-auto p-1 not-has-[[data-command-item]]:hidden"
				>
					<Palette.Viewport>
						<Palette.Group>
							<Palette.GroupHeading class="px-3 pb-1 pt-2 text-xs text-muted">Clips</Palette.GroupHeading>
							<Palette.GroupItems>
								{#each session.project.clips as clip (clip.id)}
									<Palette.Item
										class="finder-item"
										value="clip {clip.id}"
										keywords={[clip.name, 'clip']}
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
										value={command.id}
										keywords={[command.label, ...(SYNONYMS[command.id] ?? [])]}
										disabled={!command.can()}
										onSelect={() => choose(command.run)}
										>{command.label}<span class="shortcut">{command.shown}</span></Palette.Item
									>
								{/each}
							</Palette.GroupItems>
						</Palette.Group>
						{#if hasParts}
							<Palette.Group>
								<Palette.GroupHeading class="px-3 pb-1 pt-2 text-xs text-muted">Parts</Palette.GroupHeading>
								<Palette.GroupItems>
									{#each session.project.tree as { part } (part.id)}
										<Palette.Item
											class="finder-item"
											value="part {part.id}"
											keywords={[part.name, 'part']}
											onSelect={() => choose(() => session.selection.pickPart(part.id))}
											>{part.name}<span class="shortcut">part</span></Palette.Item
										>
									{/each}
								</Palette.GroupItems>
							</Palette.Group>
						{/if}
					</Palette.Viewport>
				</Palette.List>
			</Palette.Root>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>

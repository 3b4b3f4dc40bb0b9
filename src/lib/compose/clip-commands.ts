/** What can be done with whole clips, for the menu of clips, the ruler, the finder and the help. */
import { addresses } from '$lib/api/client';
import { removeClip } from '$core/edits/clips';
import { extentOf } from '$core/edits/keys';
import { mirrorClip, reverseClip, trimClip } from '$core/edits/whole-clips';
import type { Clip, Doc } from '$core/document/types';
import { toast } from 'svelte-sonner';
import type { Session } from '$lib/session/session.svelte';
import { NO_KEYS } from '$lib/session/selection.svelte';
import { commandsOf, type Command } from '$lib/ui/command';
import { toBench, type CommandTargets } from './targets';
import { addClip, copyClip, moveClip, splitAt } from '$lib/acts/new-clips';

/** What is set on the clip's card, and its field there. */
const ON_CARD = [
	['clip-name', 'Name of the clip', 'clip-name'],
	['clip-length', 'Length of the clip in frames', 'clip-length'],
	['clip-rate', 'Frame rate (fps)', 'clip-rate'],
	['clip-loop', 'Loop: once, repeat or alternate', 'clip-loop'],
	['clip-note', 'Note on the clip', 'clip-note'],
	['clip-reference', 'Reference: image, video or audio', 'clip-reference'],
	['clip-blend', 'Blend to another clip', 'clip-blend'],
] as const;

export function clipCommands({ session, openClip }: CommandTargets): Command[] {
	const command = commandsOf('Clips');
	const here = () => session.clip !== null;
	/** A command on the open clip. */
	const onClip = (id: string, label: string, run: (clip: Clip) => void, can = here) =>
		command(id, label, '', () => session.clip && run(session.clip), can);
	const others = () => session.project.clips.filter((clip) => clip.id !== session.clipId);
	return [
		command('clip-new', 'New clip', '', () => openClip(addClip(session))),
		onClip('clip-copy', 'Duplicate this clip', (clip) => openClip(copyClip(session, clip))),
		...ON_CARD.map(([id, label, field]) => command(id, label, '', toBench(session, field), here)),
		...timeCommands(session),
		onClip('clip-earlier', 'The clip earlier in the list', (clip) => moveClip(session, clip, -1)),
		onClip('clip-later', 'The clip later in the list', (clip) => moveClip(session, clip, 1)),
		onClip('clip-delete', 'Delete this clip', (clip) => {
			const next = others()[0];
			session.edit(`Delete ${clip.name}`, (doc) => removeClip(doc, clip.id));
			toast(`${clip.name} deleted`, {
				action: { label: 'Undo', onClick: () => void session.project.undo() },
			});
			openClip(next?.id ?? null);
		}),
		command('project-file', 'Download the project as a file', '', () => {
			location.href = addresses.file(session.project.id);
		}),
	];
}

/** Changes of the open clip's time as a whole. */
function timeCommands(session: Session): Command[] {
	const command = commandsOf('Clips');
	const here = () => session.clip !== null;
	const playhead = () => Math.round(session.transport.local);
	const inside = () => session.clip !== null && playhead() > 0 && playhead() < session.clip.length;
	const extent = () => extentOf(session.selection.keys);
	/** A command on the open clip. */
	const onClip = (id: string, label: string, run: (clip: Clip) => void, can = here) =>
		command(id, label, '', () => session.clip && run(session.clip), can);
	const edit = (label: string, clip: Clip, change: (doc: Doc, clip: Clip) => Doc) => {
		session.edit(`${label} ${clip.name}`, (doc) => ({
			doc: change(doc, doc.clips[clip.id]),
			keys: NO_KEYS,
		}));
	};
	const trim = (clip: Clip, from: number, to: number) => {
		edit('Trim', clip, (doc, own) => trimClip(doc, own, from, to));
		session.transport.seek(0);
	};
	return [
		onClip('clip-reverse', 'Play the clip backwards', (clip) => edit('Reverse', clip, reverseClip)),
		onClip('clip-mirror', 'Mirror the clip left and right', (clip) => edit('Mirror', clip, mirrorClip)),
		onClip(
			'clip-split',
			'Take the clip apart at the playhead',
			(clip) => splitAt(session, clip, playhead()),
			inside,
		),
		onClip('clip-end-here', 'End the clip at the playhead', (clip) => trim(clip, 0, playhead()), inside),
		onClip(
			'clip-begin-here',
			'Begin the clip at the playhead',
			(clip) => trim(clip, playhead(), clip.length),
			inside,
		),
		onClip(
			'clip-cut',
			'Cut the clip to the selected keys',
			(clip) => {
				const picked = extent();
				if (picked) trim(clip, picked.first, picked.last);
			},
			() => here() && extent() !== null && extent()!.first < extent()!.last,
		),
	];
}

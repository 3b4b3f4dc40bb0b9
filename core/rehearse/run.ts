/** Runs a rehearsal without a screen, on the file and the player that ship: what comes of it, and which limits it breaks. */
import { strFromU8 } from 'fflate';
import { readClips, type ReadClips } from '../../player/file/read';
import { Player } from '../../player/player';
import type { Moment } from '../../player/triggers';
import { partTree } from '../clip/compile';
import type { Rehearsal, RehearsalInput } from '../document/rehearsals';
import { clipsInOrder, type Doc } from '../document/types';
import { draftClips } from '../formats/clips/shipping';
import { DEFAULT_BOUNDS } from '../tracks/bounds';
import { PopWatch, stepOf, type Worst } from './pops';

export interface PassedCue {
	/** Seconds. */
	t: number;
	/** Id of its clip. */
	clip: string;
	name: string;
	cue: string;
	/** Name of its layer; '' is the ground. */
	layer: string;
	payload: unknown;
}

export interface Outcome {
	cues: PassedCue[];
	messages: { t: number; name: string; payload: unknown }[];
	/** Where clips took over: the largest jump of a value and of a speed there; null where none is seen. */
	jump: Worst | null;
	kink: Worst | null;
	/** The largest change in one frame, as a share of the range of what changes. */
	step: Worst | null;
	/** By part and path. */
	end: Record<string, Record<string, number[]>>;
	faults: Fault[];
}

export interface Fault {
	kind: 'jump' | 'kink' | 'missing-cue' | 'unexpected-cue';
	t: number;
	message: string;
}

/** How long each frame lasts: always the same, or by chance (0…1) up to a tenth of a second. */
export type Frames = { rate: number } | { random: () => number };
const LONGEST = 0.1;
/** Steps a second at which pops are looked for. */
const FINE = 480;

interface Told {
	cues: PassedCue[];
	messages: Outcome['messages'];
}

interface Names {
	clips: ReadonlyMap<string, string>;
	parts: ReadonlyMap<string, string>;
}

/** A microsecond is below all that a sum of frames rounds to. */
const settled = (t: number) => Number(t.toFixed(6));

/** The moment of an input by the names in the file; null where what it is about is not there. */
function momentOf({ what }: RehearsalInput, { parts }: Names): Moment | null {
	if (what.kind === 'set') return null;
	if (!('part' in what)) return what;
	const part = parts.get(what.part);
	return part === undefined ? null : { kind: what.kind, part };
}

/** Plays a rehearsal in frames, and tells each picture with the player, which has something to tell about its time. */
function play(
	set: ReadClips,
	rehearsal: Rehearsal,
	names: Names,
	lasting: () => number,
	onpicture: (player: Player, isSwitch: boolean) => void,
): Told {
	const told: Told = { cues: [], messages: [] };
	const idOf = new Map([...names.clips].map(([id, name]) => [name, id]));
	let isSwitch = false;
	const player: Player = new Player(set, {
		oncue: ({ clip, cue, layer }) => {
			const { name, payload } = cue;
			told.cues.push({
				t: settled(player.time),
				clip: idOf.get(clip.name)!,
				name: clip.name,
				cue: name,
				layer,
				payload,
			});
		},
		onmessage: ({ name, payload }) => told.messages.push({ t: settled(player.time), name, payload }),
		// What follows an end is queued, or bound to it.
		onend: () => (isSwitch = true),
		ontrigger: ({ then }) => (isSwitch ||= then.kind !== 'tell' && then.kind !== 'weigh'),
	});
	player.start();
	player.advance(0);
	const { inputs, seconds } = rehearsal;
	let next = 0;
	while (player.time < seconds - 1e-9) {
		let left = Math.min(lasting(), seconds - player.time);
		isSwitch = false;
		for (; next < inputs.length && inputs[next].t <= player.time + left; next++) {
			const wait = Math.max(0, inputs[next].t - player.time);
			player.advance(wait);
			left -= wait;
			const { what } = inputs[next];
			const moment = momentOf(inputs[next], names);
			if (what.kind === 'set') player.set(what.name, what.value);
			else if (moment) player.send(moment);
		}
		player.advance(left);
		onpicture(player, isSwitch);
	}
	return told;
}

function faultsOf(
	{ limits }: Rehearsal,
	{ cues, jump, kink }: Pick<Outcome, 'cues' | 'jump' | 'kink'>,
	nameOf: (clip: string) => string,
): Fault[] {
	const faults: Fault[] = [];
	const place = ({ part, path }: Worst) => `${part} ${path}`;
	if (limits.jump !== null && jump && jump.share > limits.jump)
		faults.push({
			kind: 'jump',
			t: jump.t,
			message: `${place(jump)} jumps by ${percent(jump.share)} of its range, more than ${percent(limits.jump)}`,
		});
	if (limits.kink !== null && kink && kink.share > limits.kink)
		faults.push({
			kind: 'kink',
			t: kink.t,
			message: `the speed of ${place(kink)} jumps by ${short(kink.share)} ranges a second, more than ${short(limits.kink)}`,
		});
	if (!limits.cues) return faults;
	const left = [...cues];
	for (const { t, clip, cue } of limits.cues) {
		const isIt = (own: PassedCue) =>
			own.clip === clip && own.cue === cue && Math.abs(own.t - t) <= limits.tolerance + 1e-9;
		const at = left.findIndex(isIt);
		if (at >= 0) left.splice(at, 1);
		else
			faults.push({
				kind: 'missing-cue',
				t,
				message: `“${cue}” of ${nameOf(clip)} does not pass within ${short(limits.tolerance)} s of ${seconds(t)}`,
			});
	}
	for (const { t, name, cue } of left)
		faults.push({
			kind: 'unexpected-cue',
			t,
			message: `“${cue}” of ${name} passes at ${seconds(t)}, which is not expected`,
		});
	return faults.sort((a, b) => a.t - b.t);
}

const short = (value: number) => String(Number(value.toPrecision(3)));
const percent = (share: number) => `${short(100 * share)} %`;
const seconds = (t: number) => `${t.toFixed(3)} s`;

/** Runs a rehearsal. Throws a RangeError where no file can be made of the project. */
export function runRehearsal(doc: Doc, rehearsal: Rehearsal, frames: Frames = { rate: 60 }): Outcome {
	const clips = clipsInOrder(doc);
	if (clips.length === 0) throw new RangeError('there is no clip to rehearse');
	const set = readClips(JSON.parse(strFromU8(draftClips(doc, clips, DEFAULT_BOUNDS))));
	const inFile = [...set.clips.keys()];
	const names = {
		clips: new Map(clips.map(({ id }, i) => [id, inFile[i]])),
		parts: new Map(partTree(doc).parts.map(({ id }, i) => [id, set.parts[i].name])),
	};
	const watch = new PopWatch(set.layout, 1 / FINE);
	play(
		set,
		rehearsal,
		names,
		() => 1 / FINE,
		({ pose, time }, isSwitch) => watch.look(pose, time, isSwitch),
	);
	const { ranges } = watch;
	let step: Worst | null = null;
	let before = set.layout.rest.slice();
	let isFirst = true;
	let end: Outcome['end'] = {};
	const lasting = 'rate' in frames ? () => 1 / frames.rate : () => LONGEST * frames.random() + 1e-4;
	const told = play(set, rehearsal, names, lasting, ({ pose, time }) => {
		const own = isFirst ? null : stepOf(set.layout, before, pose, ranges, time);
		if (own && own.share > (step?.share ?? 0)) step = own;
		isFirst = false;
		before = pose.slice();
	});
	for (const { part, path, at, size } of set.layout.targets)
		end = { ...end, [part]: { ...end[part], [path]: Array.from(before.subarray(at, at + size)) } };
	const { jump, kink } = watch;
	const faults = faultsOf(
		rehearsal,
		{ cues: told.cues, jump, kink },
		(clip) => names.clips.get(clip) ?? clip,
	);
	return { ...told, jump, kink, step, end, faults };
}

/** Takes: kept with the project beside the keys that are made of them. */
import { generateKeyBetween } from 'fractional-indexing';
import { toast } from 'svelte-sonner';
import { groupsIn } from '$core/takes/clean';
import { CLEANING, columnName, type Cleaning, type Take, type TakeColumn } from '$core/document/takes';
import type { Doc } from '$core/document/types';
import { putTake, removeTake, updateTake, whyNotRecorded } from '$core/takes/put-take';
import { readTakeFile, TAKE_MEDIA_TYPE, writeTakeFile, type TakeSamples } from '$core/takes/samples-file';
import { shortName } from '$core/text';
import { ticksToFrame } from '$core/time';
import { addresses, api } from '$lib/api/client';
import { newId } from '$lib/session/ids';
import type { Session } from '$lib/session/session.svelte';
import { writeNumber } from '$lib/ui/number-text';
import { WorkedSamples } from '$lib/workers/takes';
import { freeName, lastOrder } from './naming';

/** What was recorded: the rounds of it, one after the other. */
export interface Recorded {
	clip: string;
	columns: TakeColumn[];
	rounds: readonly TakeSamples[];
	/** How its keys are made at first; as of a device where it is absent. */
	cleaning?: Cleaning;
	/** What the step of undo is called. */
	label?: string;
	/** What the take is called; a number is put behind it where there is one of that name. */
	name?: string;
	/** Makes the document ready for it, and sees to it when its keys are there. */
	before?: (doc: Doc) => Doc;
	after?: (doc: Doc) => Doc;
}

const LONGEST_NAME = 120;

/** Samples by the ids of their files: fetched once. */
const fetched = new Map<string, Promise<WorkedSamples>>();

/** The samples of a take; rejects where they cannot be had. */
export function samplesOf(project: string, asset: string): Promise<WorkedSamples> {
	const known = fetched.get(asset);
	if (known) return known;
	const made = fetchSamples(project, asset).then((samples) => new WorkedSamples(samples));
	fetched.set(asset, made);
	// It is asked for again the next time.
	made.catch(() => fetched.delete(asset));
	return made;
}

async function fetchSamples(project: string, asset: string): Promise<TakeSamples> {
	const response = await fetch(addresses.asset(project, asset));
	if (!response.ok) throw new Error('The samples of this take are not there.');
	const read = readTakeFile(new Uint8Array(await response.arrayBuffer()));
	if (!read.ok) throw new Error(read.problems[0].message);
	return read.value;
}

/** Sends the samples of each round; those that could not be sent are null. */
function upload(session: Session, rounds: readonly TakeSamples[]): Promise<(string | null)[]> {
	return Promise.all(
		rounds.map(async (samples) => {
			const file = new File([writeTakeFile(samples)], 'recording.take', { type: TAKE_MEDIA_TYPE });
			const answer = await api.addAsset(session.project.id, file);
			return answer.ok ? answer.value.id : null;
		}),
	);
}

/** A round that is to be kept, under a name that no other take has. */
function newTake(doc: Doc, recorded: Recorded, samples: TakeSamples, asset: string | null): Take {
	const { clip, columns, cleaning = CLEANING, name = 'take' } = recorded;
	const own = Object.values(doc.takes);
	return {
		type: 'take',
		id: newId(),
		name: freeName(
			name,
			own.map((take) => take.name),
		),
		order: generateKeyBetween(lastOrder(own.map(({ order }) => order)), null),
		clip,
		asset: asset ?? '',
		samples: samples.times.length,
		from: samples.times[0],
		to: samples.times.at(-1)!,
		columns,
		cleaning,
	};
}

/** Keeps all rounds as takes, and puts the keys of the last: one step of undo. Gives the id of that one; null without. */
export async function keepTakes(session: Session, recorded: Recorded): Promise<string | null> {
	const { clip, columns, rounds, cleaning = CLEANING, label = 'Record' } = recorded;
	const last = rounds.length - 1;
	const samples = new WorkedSamples(rounds[last]).cleanTogether(groupsIn(session.doc, { columns }));
	const [assets, all] = await Promise.all([upload(session, rounds), samples.cleanAll(cleaning)]);
	const cleaned = all!;
	const sent = assets[last];
	if (sent !== null) fetched.set(sent, Promise.resolve(samples));
	let count = 0;
	let leftOut: string[] = [];
	let lastId = '';
	const unsent: Unsent[] = [];
	session.edit(label, (start) => {
		let doc = recorded.before?.(start) ?? start;
		if (!doc.clips[clip]) return start;
		rounds.forEach((round, i) => {
			const take = newTake(doc, recorded, round, assets[i]);
			if (i === last) {
				const put = putTake(doc, take, cleaned);
				doc = put.doc;
				count = [...put.selection.values()].reduce((all, times) => all + times.size, 0);
				leftOut = put.leftOut.map(({ why }) => why);
				lastId = take.id;
			} else doc = withTake(doc, take);
			if (assets[i] !== null) return;
			// Without its samples a take is nothing: its keys are all there is until they are sent.
			doc = removeTake(doc, take.id);
			unsent.push({ take, samples: round });
		});
		return recorded.after?.(doc) ?? doc;
	});
	if (!session.doc.clips[clip]) {
		toast.error('The clip has been deleted meanwhile: there is nothing to keep the take in');
		return null;
	}
	if (unsent.length > 0) tellUnsent(session, unsent);
	else tellKept({ label: label === 'Record' ? 'Recorded' : 'Laid', count, samples: rounds[last], leftOut });
	return session.doc.takes[lastId] ? lastId : null;
}

/** A take whose samples the server does not have. */
interface Unsent {
	take: Take;
	samples: TakeSamples;
}

const withTake = (doc: Doc, take: Take): Doc => ({ ...doc, takes: { ...doc.takes, [take.id]: take } });

/** Offers to send them again, as long as the message stands: they are nowhere else. */
function tellUnsent(session: Session, unsent: readonly Unsent[]): void {
	toast.error('The recording could not be kept: the server does not answer', {
		description:
			'Its keys are there, and are sent when it is back. What was recorded is in this window only.',
		duration: Infinity,
		action: { label: 'Send again', onClick: () => void sendAgain(session, unsent) },
	});
}

async function sendAgain(session: Session, unsent: readonly Unsent[]): Promise<void> {
	const assets = await upload(
		session,
		unsent.map(({ samples }) => samples),
	);
	const sent = unsent.flatMap(({ take }, i) => {
		const asset = assets[i];
		return asset !== null && session.doc.clips[take.clip] ? [{ ...take, asset }] : [];
	});
	if (sent.length > 0) session.edit('Keep a take', (doc) => sent.reduce(withTake, doc));
	const left = unsent.filter((_, i) => assets[i] === null);
	if (left.length > 0) tellUnsent(session, left);
	else toast('The recording is kept');
}

function tellKept({
	label,
	count,
	samples,
	leftOut,
}: {
	label: string;
	count: number;
	samples: TakeSamples;
	leftOut: string[];
}): void {
	if (count === 0) toast.error(`The take is kept, and none of it could be put: ${leftOut.join(', ')}`);
	else
		toast(`${label}: ${samples.times.length} samples became ${count} keys`, {
			description: leftOut.length > 0 ? `Left out: ${leftOut.join(', ')}.` : undefined,
		});
}

/** Takes of a clip, the latest first. */
export function takesOf(doc: Doc, clip: string): Take[] {
	return Object.values(doc.takes)
		.filter((take) => take.clip === clip)
		.sort((a, b) => (a.order < b.order ? 1 : -1));
}

export function deleteTake(session: Session, { id, name }: Take): void {
	session.edit(`Delete ${name}`, (doc) => removeTake(doc, id));
}

export function renameTake(session: Session, { id }: Take, name: string): void {
	const clean = shortName(name, LONGEST_NAME);
	if (clean !== '') session.edit('Rename a take', (doc) => updateTake(doc, id, { name: clean }));
}

/** Lays one column of a take on another number: its keys are put there from now on. */
export function layColumn(session: Session, take: Take, index: number, column: TakeColumn): void {
	const why = whyNotRecorded(session.doc, take.clip, column);
	if (take.columns.some((own, i) => i !== index && columnName(own) === columnName(column))) {
		toast.error('Another channel of the take is laid on that already');
		return;
	}
	if (why) {
		toast.error(`It cannot be laid there: ${why}`);
		return;
	}
	session.edit('Lay a take on another number', (doc) =>
		updateTake(doc, take.id, { columns: take.columns.with(index, column) }),
	);
}

/** When a take was recorded in its clip, in frames. */
export function tellSpan({ from, to }: Take, frameRate: number): string {
	const at = (t: number) => writeNumber(ticksToFrame(t, frameRate), 1);
	return `frame ${at(from)} → ${at(to)}`;
}

/**
 * A BVH file as it stands: a tree of joints, and rows of numbers. Keywords in any case, blanks of any kind; what is wrong is
 * said with its line. Source: "Motion Capture File Formats Explained", M. Meredith and S. Maddock, section 5.
 */
import { shortName } from '../../text';
import { TICKS_PER_SECOND } from '../../../player/time';
import { fail, type Result } from '../../result';

const CHANNELS = ['xposition', 'yposition', 'zposition', 'xrotation', 'yrotation', 'zrotation'] as const;
export type BvhChannel = (typeof CHANNELS)[number];

export interface BvhJoint {
	name: string;
	/** Index of the joint that it hangs on, which comes before it; −1 for a root. */
	parent: number;
	offset: [number, number, number];
	channels: BvhChannel[];
	/** Index of its first number in a row. */
	at: number;
	/** Where a branch ends, from its last joint. */
	end: [number, number, number] | null;
}

export interface Bvh {
	joints: BvhJoint[];
	/** Seconds a frame. */
	frameTime: number;
	/** `width` numbers a frame. */
	rows: Float64Array;
	width: number;
	frames: number;
	/** How many frames the file says that it has. */
	saidFrames: number;
}

const MOST_JOINTS = 2000;
const MOST_NUMBERS = 8_000_000;
const LONGEST_FRAME = 60;

class Refusal extends Error {}

/** Words one after the other, with their lines. */
class Words {
	private readonly pattern = /[{}]|[^\s{}]+/g;
	private ahead: string | null = null;
	private hasEnded = false;
	private place = 0;
	private counted = 0;
	private lineNumber = 1;

	constructor(private readonly text: string) {}

	/** The next word without taking it; null at the end. */
	peek(): string | null {
		if (this.ahead !== null || this.hasEnded) return this.ahead;
		const match = this.pattern.exec(this.text);
		if (!match) {
			this.hasEnded = true;
			return null;
		}
		this.place = match.index;
		return (this.ahead = match[0]);
	}

	next(wanted: string): string {
		const word = this.peek();
		if (word === null) throw new Refusal(`The file ends where ${wanted} should be.`);
		this.ahead = null;
		return word;
	}

	/** The line of the word that was looked at last, from 1. */
	get line(): number {
		for (; this.counted < this.place; this.counted++)
			if (this.text.charCodeAt(this.counted) === 10) this.lineNumber++;
		return this.lineNumber;
	}

	refuse(message: string): never {
		throw new Refusal(`Line ${this.line}: ${message}`);
	}

	isNext(word: string): boolean {
		return this.peek()?.toLowerCase() === word;
	}

	/** Takes a word that has to come. */
	expect(word: string, called = word.toUpperCase()): void {
		const found = this.next(called);
		if (found.toLowerCase() !== word) this.refuse(`${called} should be here, not “${shortName(found, 40)}”.`);
	}

	number(wanted: string): number {
		const word = this.next(wanted);
		const value = Number(word);
		if (!Number.isFinite(value) || Math.abs(value) > 1e9)
			this.refuse(`“${shortName(word, 40)}” is no number that ${wanted} can have.`);
		return value;
	}

	/** What is left of the line, or all before a brace. */
	name(): string {
		const words: string[] = [];
		this.peek();
		const line = this.line;
		while (this.peek() !== null && this.peek() !== '{' && this.line === line) words.push(this.next('a name'));
		return words.join(' ');
	}
}

function vectorOf(words: Words): [number, number, number] {
	return [words.number('an offset'), words.number('an offset'), words.number('an offset')];
}

function hierarchyOf(words: Words): BvhJoint[] {
	const joints: BvhJoint[] = [];
	const open: number[] = [];
	let at = 0;
	words.expect('hierarchy');
	while (!words.isNext('motion') && words.peek() !== null) {
		const word = words.next('a joint').toLowerCase();
		if (word === '}') {
			if (open.pop() === undefined) words.refuse('this brace closes nothing.');
		} else if (word === 'end') {
			words.expect('site', 'Site');
			// Some files give the ends names.
			words.name();
			words.expect('{', '{');
			words.expect('offset');
			const end = vectorOf(words);
			words.expect('}', '}');
			const joint = joints[open.at(-1) ?? -1];
			if (!joint) words.refuse('an end has to be within a joint.');
			joint.end = end;
		} else if (word === 'root' || word === 'joint') {
			if (joints.length === MOST_JOINTS) words.refuse(`there are more than ${MOST_JOINTS} joints.`);
			if (word === 'joint' && open.length === 0) words.refuse('a joint has to be within another one.');
			if (word === 'root' && open.length > 0) words.refuse('a root cannot be within a joint.');
			const joint: BvhJoint = {
				name: words.name(),
				parent: open.at(-1) ?? -1,
				offset: [0, 0, 0],
				channels: [],
				at,
				end: null,
			};
			words.expect('{', '{');
			words.expect('offset');
			joint.offset = vectorOf(words);
			if (words.isNext('channels')) joint.channels = channelsOf(words);
			at += joint.channels.length;
			open.push(joints.length);
			joints.push(joint);
		} else words.refuse(`“${shortName(word, 40)}” is not known here.`);
	}
	if (open.length > 0) words.refuse(`the joint “${joints[open.at(-1)!].name}” is not closed.`);
	if (joints.length === 0) words.refuse('there is no joint.');
	return joints;
}

function channelsOf(words: Words): BvhChannel[] {
	words.expect('channels');
	const count = words.number('the number of channels');
	if (!Number.isInteger(count) || count < 0 || count > CHANNELS.length)
		words.refuse(`a joint has 0 to ${CHANNELS.length} channels.`);
	const channels: BvhChannel[] = [];
	for (let i = 0; i < count; i++) {
		const word = words.next('a channel').toLowerCase();
		const channel = CHANNELS.find((own) => own === word);
		if (!channel) words.refuse(`“${shortName(word, 40)}” is no channel.`);
		if (channels.includes(channel)) words.refuse(`${word} is here twice.`);
		channels.push(channel);
	}
	return channels;
}

/** A keyword that ends in a colon, which may stand apart. */
function label(words: Words, ...parts: readonly string[]): void {
	parts.forEach((part, i) => {
		const isLast = i === parts.length - 1;
		if (isLast && words.isNext(`${part}:`)) words.next(part);
		else {
			words.expect(part, parts.join(' ').toUpperCase());
			if (isLast && words.isNext(':')) words.next(':');
		}
	});
}

function motionOf(words: Words, joints: BvhJoint[]): Bvh {
	if (words.peek() === null) throw new Refusal('It has no MOTION: a skeleton alone, in which nothing moves.');
	words.expect('motion');
	label(words, 'frames');
	const saidFrames = words.number('the number of frames');
	if (!Number.isInteger(saidFrames) || saidFrames < 1) words.refuse('there has to be one frame or more.');
	label(words, 'frame', 'time');
	const frameTime = words.number('the frame time');
	if (!(frameTime * TICKS_PER_SECOND >= 1 && frameTime <= LONGEST_FRAME))
		words.refuse(`a frame time of ${frameTime} s cannot be played.`);
	const width = joints.reduce((sum, { channels }) => sum + channels.length, 0);
	if (saidFrames * width > MOST_NUMBERS)
		words.refuse(`${saidFrames} frames of ${width} numbers are too many: ${MOST_NUMBERS} may be here.`);
	const rows = new Float64Array(saidFrames * width);
	let count = 0;
	while (count < rows.length && words.peek() !== null) rows[count++] = words.number('a channel');
	if (count === rows.length && words.peek() !== null)
		words.refuse(`there is more here than the ${saidFrames} frames that it says it has.`);
	const frames = width === 0 ? 0 : Math.floor(count / width);
	if (frames === 0) words.refuse('there is no whole frame.');
	return { joints, frameTime, rows, width, frames, saidFrames };
}

/** Reads a file, or says what is wrong with it and where. */
export function parseBvh(text: string): Result<Bvh> {
	try {
		const words = new Words(text);
		return { ok: true, value: motionOf(words, hierarchyOf(words)) };
	} catch (error) {
		if (error instanceof Refusal) return fail('', error.message);
		throw error;
	}
}

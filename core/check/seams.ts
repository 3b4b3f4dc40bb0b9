/** Loops that do not close. */
import { seamOf } from '../clip/seam';
import { moveKeys } from '../edits/keys';
import { blendSeam, endAtStart, markAccumulating, moveStrayKeys, smoothSeam } from '../edits/seam';
import type { Channel, Doc } from '../document/types';
import { frameToTicks } from '../time';
import { TICKS_PER_SECOND } from '../../player/time';
import { number, report, selectionOf, unitHere, type Subject } from './subject';

const SEAM_TOLERANCE = 0.001;
/** Share of a clip over which an end may lead over to the start. */
const LEAD_OVER = 0.2;

/** A channel of holds alone jumps on purpose. */
function onlyHolds({ keys }: Channel): boolean {
	return keys.every((key) => key.shape.kind === 'hold');
}

export function checkSeam(subject: Subject): void {
	const { channel, clip, curve, range } = subject;
	if (clip.loop.mode === 'once' || range === 0 || onlyHolds(channel)) return;
	const rotates = channel.property === 'rotation';
	const seam = seamOf(curve, clip, { rotates, accumulates: channel.accumulates });
	const unit = unitHere(subject);
	if (Math.abs(seam.gap) > SEAM_TOLERANCE * range) {
		report(
			subject,
			'seam-gap',
			'error',
			clip.length,
			`a jump of ${number(Math.abs(seam.gap))}${unit}`,
			'Each new round starts with a jump.',
			{ label: 'End where it starts', edit: (doc) => endAtStart(doc, channel.id) },
			{ label: 'Lead over to the start', edit: (doc) => blendSeam(doc, channel.id, LEAD_OVER * clip.length) },
			...(clip.loop.mode === 'repeat'
				? [{ label: 'Let it travel on', edit: (doc: Doc) => markAccumulating(doc, channel.id) }]
				: []),
		);
	} else if (
		Math.abs(seam.slopeGap) > 1.2 * (range / (clip.length / TICKS_PER_SECOND)) &&
		clip.loop.mode === 'repeat' &&
		clip.loop.pause === 0
	) {
		const { keys } = channel;
		const smoothable = keys[0].t === 0 && keys.at(-1)!.t === clip.length;
		report(
			subject,
			'seam-slope',
			'note',
			clip.length,
			`${number(Math.abs(seam.slopeGap))}${unit} a second`,
			'The value closes, but the speed changes at once: a small knock in every round.',
			...(smoothable
				? [{ label: 'Smooth across the seam', edit: (doc: Doc) => smoothSeam(doc, channel.id) }]
				: []),
		);
	}
}

/** In a repeating clip the last frame before the end should differ from the first one. */
export function checkDoubledFrame(subject: Subject): void {
	const { channel, clip, doc } = subject;
	if (clip.loop.mode !== 'repeat') return;
	const frame = frameToTicks(1, doc.project.frameRate);
	const last = channel.keys.at(-1)!;
	if (channel.keys.length < 3 || last.t !== clip.length - frame) return;
	if (last.v !== channel.keys[0].v || channel.keys[0].t !== 0 || channel.keys.at(-2)!.v === last.v) return;
	report(
		subject,
		'last-frame-doubled',
		'warning',
		last.t,
		'one frame too early',
		'The end of a round is the start of the next: closed a frame early, the same picture is shown twice and the loop stutters.',
		{
			label: 'Move the last key to the end',
			edit: (d) => moveKeys(d, selectionOf(channel, last.t), frame, 0),
		},
	);
}

/** How near to the end of the clip a last key counts as meant for it, in frames. */
const STRAY = 3;
/** A channel that rests for more than this share of a clip while it moved before. */
const DEAD = 0.3;

/** In a looping clip: channels whose last key is a little beside the end, and such that stand still towards it. */
export function checkEnd(subject: Subject): void {
	const { channel, clip, doc, range } = subject;
	const { keys } = channel;
	if (clip.loop.mode === 'once' || keys.length < 2 || range < 1e-9 || onlyHolds(channel)) return;
	const last = keys.at(-1)!;
	const away = clip.length - last.t;
	const reach = STRAY * frameToTicks(1, doc.project.frameRate);
	if (away === 0) return;
	const frames = number(Math.abs(away) / frameToTicks(1, doc.project.frameRate));
	if (Math.abs(away) <= reach) {
		report(
			subject,
			'ends-apart',
			'note',
			last.t,
			`${frames} ${frames === '1' ? 'frame' : 'frames'} ${away > 0 ? 'before' : 'after'} the end`,
			'It ends at another time than the clip: it waits there, or is cut off, in every round.',
			{ label: 'Move last keys to the end', edit: (d) => moveStrayKeys(d, clip, reach) },
		);
	} else if (away > DEAD * clip.length && channel.ends.after === 'hold' && clip.loop.pause === 0) {
		report(
			subject,
			'dead-hold',
			'note',
			last.t,
			`still for the last ${frames} frames`,
			'It moved before and then stands until the round is over, which looks as if it were stuck.',
		);
	}
}

/**
 * Keys of a body that is dropped and bounces: height, squash and travel. All arcs are exact parabolas under one
 * gravity: with times on whole frames, a rebound's height goes with the square of its own time.
 * Source: free fall, h = g·t²/2, and a coefficient of restitution on the speed at each contact.
 */
import type { Key } from '../curve/types';
import type { Shape } from '../../player/easing/shape';
import type { CopiedChannel } from './clipboard';
import type { Space } from '../pose/space';
import type { Vec3 } from '../../player/maths/vector';
import { frameToTicks } from '../time';

export interface BounceSettings {
	/** Where it lands, and how far above that it is let go, in the project's units. */
	ground: number;
	height: number;
	/** Frames of the first fall. */
	fallFrames: number;
	/** Speed kept at each contact, in (0, 1). */
	restitution: number;
	bounces: number;
	/** Frames on the ground at each contact. */
	contactFrames: number;
	/** How much it flattens at the first contact, 0…0.9; less at the later ones, as the speed. */
	squash: number;
	/** Its scale when nothing presses it. */
	scale: Vec3;
	/** Where it starts along x, how far it travels until the first contact, and the share of speed kept at each. */
	start: number;
	travel: number;
	travelKept: number;
	/** Frames in which it slides to a stop after the last contact. */
	lingerFrames: number;
}

const FALL: Shape = { kind: 'fall' };
const RISE: Shape = { kind: 'rise' };
const HOLD: Shape = { kind: 'hold' };
const LINEAR: Shape = { kind: 'linear' };
const eased = (start: number, finish: number): Shape => ({ kind: 'eased', start, finish });

/** How far it stretches on its way, as a share of how far it will flatten. */
const STRETCH = 0.3;

interface Contact {
	/** Frame at which it touches, and speed there as a share of the first. */
	frame: number;
	speed: number;
}

/** Frames of the contacts, and of the tops between them with their heights. */
function course(settings: BounceSettings): {
	contacts: Contact[];
	tops: { frame: number; height: number }[];
} {
	const { fallFrames, restitution, bounces, contactFrames, height } = settings;
	const contacts: Contact[] = [{ frame: fallFrames, speed: 1 }];
	const tops: { frame: number; height: number }[] = [];
	let half = fallFrames;
	for (let j = 1; j <= bounces; j++) {
		// Each half arc lasts as long as the speed it starts with, on whole frames and never longer than the one before.
		half = Math.min(half, Math.max(1, Math.round(fallFrames * restitution ** j)));
		const leaves = contacts.at(-1)!.frame + contactFrames;
		tops.push({ frame: leaves + half, height: height * (half / fallFrames) ** 2 });
		contacts.push({ frame: leaves + 2 * half, speed: half / fallFrames });
	}
	return { contacts, tops };
}

/** A factor across that keeps the volume (in the world) or the area (on a screen) when y is scaled. */
export function keptAcross(scaleY: number, space: Space): number {
	return space === 'world' ? 1 / Math.sqrt(scaleY) : 1 / scaleY;
}

/** The channels for a part, their times from the moment it is let go, in ticks. */
export function buildBounce(
	settings: BounceSettings,
	part: string,
	space: Space,
	frameRate: number,
): CopiedChannel[] {
	const { contacts, tops } = course(settings);
	const { ground, height, contactFrames, squash, scale, start, travel, travelKept, lingerFrames } = settings;
	const up = space === 'world' ? 1 : -1;
	const ticks = (frame: number) => frameToTicks(frame, frameRate);
	const key = (frame: number, v: number, shape: Shape): Key => ({ t: ticks(frame), v, shape });

	const rises: Key[] = [key(0, ground + up * height, FALL)];
	const sizes: [frame: number, scaleY: number, shape: Shape][] = [[0, 1, eased(0.6, 0)]];
	const travels: Key[] = [key(0, start, LINEAR)];
	let x = start;
	let speed = travel / settings.fallFrames;
	contacts.forEach(({ frame, speed: impact }, j) => {
		const leaves = frame + contactFrames;
		const last = j === contacts.length - 1;
		rises.push(key(frame, ground, contactFrames > 0 && !last ? HOLD : RISE));
		if (contactFrames > 0 && !last) rises.push(key(leaves, ground, RISE));
		if (!last) rises.push(key(tops[j].frame, ground + up * tops[j].height, FALL));

		const flat = squash * impact;
		const pressed = Math.max(1, contactFrames / 2);
		sizes.push([frame, 1 + STRETCH * flat, eased(0, 0.7)], [frame + pressed, 1 - flat, eased(0.4, 0.4)]);
		if (last) sizes.push([frame + pressed + Math.max(2, contactFrames), 1, LINEAR]);
		else {
			sizes.push([Math.max(leaves, frame + pressed + 1), 1 + (STRETCH / 2) * flat, eased(0.3, 0.5)]);
			sizes.push([tops[j].frame, 1, eased(0.6, 0)]);
		}

		x += speed * (frame - (j === 0 ? 0 : contacts[j - 1].frame));
		speed *= travelKept;
		travels.push(key(frame, x, last ? eased(0, 0.7) : LINEAR));
		// Slowing evenly to a stop takes it half as far as its speed would.
		if (last && lingerFrames > 0)
			travels.push(key(frame + lingerFrames, x + (speed * lingerFrames) / 2, LINEAR));
	});

	const channels: CopiedChannel[] = [{ part, property: 'translation', component: 'y', keys: rises }];
	if (travel !== 0) channels.push({ part, property: 'translation', component: 'x', keys: travels });
	if (squash > 0) {
		const rows = sizes.filter(([frame], i) => i === 0 || frame > sizes[i - 1][0]);
		const pressed = (component: 'x' | 'y' | 'z', factor: (scaleY: number) => number) => {
			const own = scale['xyz'.indexOf(component)];
			const keys = rows.map(([frame, v, shape]) => key(frame, own * factor(v), shape));
			channels.push({ part, property: 'scale', component, keys });
		};
		pressed('y', (v) => v);
		for (const component of space === 'world' ? (['x', 'z'] as const) : (['x'] as const))
			pressed(component, (v) => keptAcross(v, space));
	}
	return channels;
}

/** Ticks from the drop until nothing moves any more. */
export function bounceTicks(channels: readonly CopiedChannel[]): number {
	return Math.max(...channels.map((channel) => channel.keys.at(-1)!.t));
}

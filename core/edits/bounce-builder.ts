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
	/** Where its lowest point lands, and how far above that it is let go, in the project's units. */
	ground: number;
	height: number;
	/** How far its pivot is above its lowest point when nothing presses it. */
	foot: number;
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
	/** Degrees about z: where it starts, and how far it turns until the first contact; less at each, as the speed. */
	angle: number;
	turn: number;
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

const PRESS = eased(0, 0.7);
const RELEASE = eased(0.4, 0.4);

/** Frames in which it comes upright after the last contact, at least. */
const SETTLES = 6;

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

/** Goes along at an even pace from contact to contact, slower after each, and slides to a stop. */
function travels(
	{ start, travel, travelKept, fallFrames, lingerFrames }: BounceSettings,
	contacts: readonly Contact[],
	key: (frame: number, v: number, shape: Shape) => Key,
): Key[] {
	const keys = [key(0, start, LINEAR)];
	let x = start;
	let speed = travel / fallFrames;
	contacts.forEach(({ frame }, j) => {
		const last = j === contacts.length - 1;
		x += speed * (frame - (j === 0 ? 0 : contacts[j - 1].frame));
		speed *= travelKept;
		keys.push(key(frame, x, last ? eased(0, 0.7) : LINEAR));
		// Slowing evenly to a stop takes it half as far as its speed would.
		if (last && lingerFrames > 0)
			keys.push(key(frame + lingerFrames, x + (speed * lingerFrames) / 2, LINEAR));
	});
	return keys;
}

/** Turns at an even pace from contact to contact, slower after each, and comes to rest at the nearest upright angle. */
function turns(
	{ angle, turn, fallFrames, restitution, contactFrames, lingerFrames }: BounceSettings,
	contacts: readonly Contact[],
	key: (frame: number, v: number, shape: Shape) => Key,
): Key[] {
	const keys = [key(0, angle, LINEAR)];
	let at = angle;
	let from = 0;
	contacts.forEach(({ frame }, j) => {
		at += (turn / fallFrames) * restitution ** j * (frame - from);
		from = frame + contactFrames;
		const last = j === contacts.length - 1;
		keys.push(key(frame, at, last ? eased(0, 0.7) : LINEAR));
		if (!last && contactFrames > 0) keys.push(key(from, at, LINEAR));
	});
	const upright = angle + 360 * Math.round((at - angle) / 360);
	return [...keys, key(contacts.at(-1)!.frame + Math.max(SETTLES, lingerFrames), upright, LINEAR)];
}

/** The channels for a part, their times from the moment it is let go, in ticks. */
export function buildBounce(
	settings: BounceSettings,
	part: string,
	space: Space,
	frameRate: number,
): CopiedChannel[] {
	const { contacts, tops } = course(settings);
	const { ground, height, contactFrames, squash, scale, travel } = settings;
	const up = space === 'world' ? 1 : -1;
	const ticks = (frame: number) => frameToTicks(frame, frameRate);
	const key = (frame: number, v: number, shape: Shape): Key => ({ t: ticks(frame), v, shape });

	/** Where the pivot is when its lowest point stands on the ground. */
	const stands = (scaleY: number) => ground + up * settings.foot * scaleY;
	// What is pressed about a pivot above its foot has to sink with it, and lands unstretched.
	const sinks = settings.foot !== 0 && squash > 0;
	const rises: Key[] = [key(0, stands(1) + up * height, FALL)];
	const sizes: [frame: number, scaleY: number, shape: Shape][] = [[0, 1, eased(0.6, 0)]];
	contacts.forEach(({ frame, speed: impact }, j) => {
		const leaves = frame + contactFrames;
		const last = j === contacts.length - 1;
		const flat = squash * impact;
		const stretched = sinks ? 0 : STRETCH * flat;
		const pressed = Math.max(1, sinks ? Math.floor(contactFrames / 2) : contactFrames / 2);
		const released = last
			? frame + pressed + Math.max(2, contactFrames)
			: Math.max(leaves, frame + pressed + 1);
		sizes.push([frame, 1 + stretched, PRESS], [frame + pressed, 1 - flat, RELEASE]);
		sizes.push([released, last ? 1 : 1 + stretched / 2, last ? LINEAR : eased(0.3, 0.5)]);
		if (!last) sizes.push([tops[j].frame, 1, eased(0.6, 0)]);

		if (sinks && (last || released === leaves)) {
			rises.push(key(frame, stands(1), PRESS), key(frame + pressed, stands(1 - flat), RELEASE));
			rises.push(key(released, stands(1), RISE));
		} else {
			rises.push(key(frame, stands(1), contactFrames > 0 && !last ? HOLD : RISE));
			if (contactFrames > 0 && !last) rises.push(key(leaves, stands(1), RISE));
		}
		if (!last) rises.push(key(tops[j].frame, stands(1) + up * tops[j].height, FALL));
	});

	const channels: CopiedChannel[] = [{ part, property: 'translation', component: 'y', keys: rises }];
	if (travel !== 0)
		channels.push({ part, property: 'translation', component: 'x', keys: travels(settings, contacts, key) });
	if (settings.turn !== 0)
		channels.push({ part, property: 'rotation', component: 'z', keys: turns(settings, contacts, key) });
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

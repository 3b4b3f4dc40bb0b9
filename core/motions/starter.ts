/** Motions to start from, in the words of the trade. Each looks good at its own amounts; distances are in sizes of the part. */
import type { Motion, MotionChannel } from '../document/motions';
import type { Component, Property } from '../document/types';
import type { Shape } from '../../player/easing/shape';
import { secondsToTicks } from '../../player/time';

export interface StarterMotion {
	motion: Motion;
	/** What it is good for, in a line. */
	about: string;
	/** Other words that it is looked for by. */
	words: string;
}

/** What leads from a key to the next. */
const both: Shape = { kind: 'eased', start: 0.5, finish: 0.5 };
const out: Shape = { kind: 'eased', start: 0, finish: 0.75 };
const into: Shape = { kind: 'eased', start: 0.75, finish: 0 };
const rise: Shape = { kind: 'rise' };
const fall: Shape = { kind: 'fall' };
const linear: Shape = { kind: 'linear' };
const hold: Shape = { kind: 'hold' };
const NAMED: Readonly<Record<string, Shape>> = { both, out, into, rise, fall, linear, hold };
const overshoot: Shape = { kind: 'family', family: 'back', way: 'out' };
const windUp: Shape = { kind: 'family', family: 'back', way: 'in' };

/** Keys as `seconds:value`, and `/shape` behind those whose own differs from that of the others. */
function channel(property: Property, component: Component, shape: Shape, keys: string): MotionChannel {
	const read = (text: string) => {
		const [, seconds, value, own] = /^([\d.]+):(-?[\d.]+)(?:\/(\w+))?$/.exec(text)!;
		return { t: secondsToTicks(Number(seconds)), v: Number(value), shape: own ? NAMED[own] : shape };
	};
	return { property, component, keys: keys.split(' ').map(read) };
}
type Axis = 'x' | 'y' | 'z';
const move = (axis: Axis, shape: Shape, keys: string) => channel('translation', axis, shape, keys);
const turn = (axis: Axis, shape: Shape, keys: string) => channel('rotation', axis, shape, keys);
const grow = (axes: string, shape: Shape, keys: string) =>
	[...axes].map((axis) => channel('scale', axis as Axis, shape, keys));
const fade = (shape: Shape, keys: string) => channel('opacity', 'value', shape, keys);

const starters: StarterMotion[] = [];

function starter(
	name: string,
	about: string,
	words: string,
	distance: number,
	channels: readonly (MotionChannel | readonly MotionChannel[])[],
): void {
	const all = channels.flat();
	const length = Math.max(...all.map(({ keys }) => keys.at(-1)!.t));
	const id = name.replaceAll(' ', '-');
	const order = `a${starters.length}`;
	const motion: Motion = {
		type: 'motion',
		id,
		name,
		order,
		space: 'world',
		length,
		distance,
		size: 1,
		channels: all,
	};
	starters.push({ motion, about, words });
}

// Coming.
starter('arrive', 'Comes in from the side and settles.', 'enter slide in come left', 1.5, [
	move('x', out, '0:-1 0.5:0'),
	fade(linear, '0:0 0.2:1'),
]);
starter('rise in', 'Comes up from below and settles.', 'enter slide up appear', 0.6, [
	move('y', out, '0:-1 0.45:0'),
	fade(linear, '0:0 0.25:1'),
]);
starter('fade in', 'Appears where it is.', 'enter appear opacity show', 1, [fade(both, '0:0 0.3:1')]);
starter('grow', 'Grows from nothing.', 'enter appear scale up zoom in', 1, [
	...grow('xyz', out, '0:0 0.4:1'),
]);
starter('pop', 'Grows a little too far, and comes back.', 'enter appear scale overshoot', 1, [
	...grow('xyz', overshoot, '0:0 0.4:1'),
	fade(linear, '0:0 0.1:1'),
]);
starter('drop', 'Falls from above, flattens, rebounds once.', 'enter fall bounce land', 2.5, [
	move('y', fall, '0:1 0.42:0/rise 0.6:0.16/fall 0.78:0'),
	...grow('y', both, '0:1/linear 0.36:1.1/linear 0.42:0.72 0.56:1.05 0.72:1 0.78:0.9 0.94:1'),
	...grow('x', both, '0:1/linear 0.36:0.95/linear 0.42:1.18 0.56:0.98 0.72:1 0.78:1.06 0.94:1'),
]);
starter('wipe in', 'Is uncovered from left to right.', 'reveal uncover enter clip', 1, [
	channel('reveal', 'right', both, '0:1 0.5:0'),
]);
// Going.
starter('leave', 'Goes out to the side.', 'exit slide out go right', 1.5, [
	move('x', into, '0:0 0.4:1'),
	fade(linear, '0:1/hold 0.22:1/linear 0.4:0'),
]);
starter('sink away', 'Goes down and out.', 'exit slide down disappear', 0.6, [
	move('y', into, '0:0 0.35:-1'),
	fade(linear, '0:1/hold 0.15:1/linear 0.35:0'),
]);
starter('fade out', 'Disappears where it is.', 'exit disappear opacity hide', 1, [fade(both, '0:1 0.25:0')]);
starter('shrink', 'Winds up, and shrinks to nothing.', 'exit disappear scale down zoom out', 1, [
	...grow('xyz', windUp, '0:1 0.35:0'),
]);
starter('tip over', 'Falls over about its pivot, and settles.', 'fall over topple', 1, [
	turn('z', fall, '0:0 0.6:-90/rise 0.72:-82/fall 0.84:-90'),
]);
// Once.
starter('hop', 'Crouches, jumps, lands.', 'jump leap', 0.9, [
	move('y', rise, '0:0/hold 0.16:0 0.41:1/fall 0.66:0'),
	...grow('y', both, '0:1 0.14:0.78 0.24:1.14 0.41:1 0.6:1.08 0.68:0.8 0.88:1'),
	...grow('x', both, '0:1 0.14:1.14 0.24:0.92 0.41:1 0.6:0.96 0.68:1.12 0.88:1'),
]);
starter('shake', 'Says no: side to side, less and less.', 'error refuse wrong no', 0.14, [
	move('x', both, '0:0 0.06:1 0.15:-0.85 0.24:0.6 0.33:-0.4 0.42:0.2 0.5:0'),
]);
starter('nod', 'Leans and comes back twice.', 'yes agree tilt', 1, [
	turn('z', both, '0:0 0.16:-11 0.34:2 0.5:-7 0.72:0'),
]);
starter('swing', 'Hangs and swings out.', 'pendulum dangle hang', 1, [
	turn('z', both, '0:0 0.3:24 0.8:-17 1.3:11 1.8:-6 2.3:3 2.7:0'),
]);
starter('squash', 'Is pressed flat, and springs back.', 'press flatten jelly', 1, [
	...grow('y', both, '0:1 0.1:0.62 0.24:1.14 0.38:0.95 0.5:1'),
	...grow('x', both, '0:1 0.1:1.28 0.24:0.92 0.38:1.03 0.5:1'),
]);
starter('stretch', 'Is pulled long, and springs back.', 'pull long', 1, [
	...grow('y', both, '0:1 0.14:1.36 0.3:0.9 0.44:1.04 0.56:1'),
	...grow('x', both, '0:1 0.14:0.84 0.3:1.08 0.44:0.98 0.56:1'),
]);
starter('wobble', 'Jelly: long and wide in turn, less and less.', 'jelly shiver', 1, [
	...grow('x', both, '0:1 0.1:1.16 0.25:0.9 0.4:1.08 0.55:0.96 0.7:1.02 0.85:1'),
	...grow('y', both, '0:1 0.1:0.86 0.25:1.12 0.4:0.93 0.55:1.04 0.7:0.98 0.85:1'),
]);
starter('recoil', 'Is hit, and comes back slowly.', 'kick hit back punch', 0.35, [
	move('x', out, '0:0 0.07:-1/both 0.5:0.06 0.7:0'),
	turn('z', both, '0:0 0.07:8 0.5:-1 0.7:0'),
]);
starter('roll', 'Rolls along: turns as far as it goes.', 'wheel travel move', Math.PI, [
	move('x', both, '0:0 1.2:1'),
	turn('z', both, '0:0 1.2:-360'),
]);
starter('turn', 'Turns once about its upright axis.', 'flip rotate around', 1, [
	turn('y', both, '0:0 0.8:360'),
]);
starter('beat', 'Two quick beats, as a heart.', 'heart pulse', 1, [
	...grow('xyz', both, '0:1 0.12:1.14 0.28:1 0.4:1.1 0.62:1 0.9:1'),
]);
starter('blink', 'Closes and opens, as an eye.', 'eye wink close', 1, [
	...grow('y', both, '0:1 0.08:0.06 0.12:0.06 0.24:1'),
]);
starter('flicker', 'Goes dim twice, as a bad lamp.', 'lamp light flash warn', 1, [
	fade(linear, '0:1 0.05:0.25 0.1:0.9 0.18:0.9 0.22:0.15 0.34:1 0.5:1'),
]);
// Round after round.
starter('pulse', 'Grows and shrinks a little.', 'attention loop scale throb', 1, [
	...grow('xyz', both, '0:1 0.4:1.1 0.9:1'),
]);
starter('breathe', 'Rises and falls, hardly seen.', 'idle loop alive', 1, [
	...grow('y', both, '0:1 1.3:1.045 3:1'),
	...grow('x', both, '0:1 1.3:0.985 3:1'),
]);
starter('sway', 'Leans to and fro, as grass.', 'idle loop wind plant', 1, [
	turn('z', both, '0:0 0.75:5 2.25:-5 3:0'),
]);
starter('float', 'Rises and sinks, as on water.', 'idle loop bob hover', 0.12, [
	move('y', both, '0:0 1.2:1 2.4:0'),
	turn('z', both, '0:0 0.6:1.5 1.8:-1.5 2.4:0'),
]);
starter('drift', 'Wanders about its place.', 'idle loop wander hover', 0.1, [
	move('x', both, '0:0 1:1 3:-1 4:0'),
	move('y', both, '0:0 0.5:0.6 1.5:-0.6 2.5:0.6 3.5:-0.6 4:0'),
]);
starter('spin', 'Turns on and on at one speed.', 'loop rotate wheel loading', 1, [
	turn('z', linear, '0:0 1:-360'),
]);

/** In the order of the work: what comes, what goes, what happens once, what goes on. */
export const STARTER_MOTIONS: readonly StarterMotion[] = starters;

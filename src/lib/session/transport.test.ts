import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Clip } from '$core/document/types';
import type { Loop } from '$player/loop';
import { makeQuay } from '../../../demo/quay';
import { Transport } from './transport.svelte';

/** A second is 72,000 ticks; the clip takes one. */
const SECOND = 72_000;
let frames: FrameRequestCallback[];
let playing: Transport | null = null;
let now: number;

beforeEach(() => {
	frames = [];
	now = 1000;
	vi.stubGlobal('requestAnimationFrame', (next: FrameRequestCallback) => frames.push(next));
	vi.stubGlobal('cancelAnimationFrame', () => (frames = []));
	vi.spyOn(performance, 'now').mockImplementation(() => now);
});
afterEach(() => {
	playing?.stop();
	vi.unstubAllGlobals();
	vi.restoreAllMocks();
});

function made(loop: Partial<Loop> = {}): Transport {
	const clip: Clip = {
		...makeQuay().clips['sack-drop'],
		length: SECOND,
		loop: { mode: 'once', count: null, pause: 0, ...loop },
	};
	playing = new Transport(
		() => clip,
		() => 30,
	);
	return playing;
}
/** Lets time go by in pictures of so many milliseconds. */
function pass(ms: number, picture = 16): void {
	for (let left = ms; left > 0; left -= picture) {
		now += Math.min(picture, left);
		for (const next of frames.splice(0)) next(now);
	}
}

describe('the playhead', () => {
	it('goes as fast as the clip, or at the speed of the preview, and rests at the end', () => {
		const transport = made();
		transport.play();
		pass(500);
		expect(transport.local).toBeCloseTo(SECOND / 2, 0);
		transport.speed = 0.1;
		pass(1000);
		expect(transport.local).toBeCloseTo(0.6 * SECOND, 0);
		transport.speed = 4;
		pass(200);
		expect([transport.playing, transport.local]).toEqual([false, SECOND]);
		// From the end it starts anew.
		transport.speed = 1;
		transport.play();
		pass(16);
		expect(transport.local).toBeLessThan(0.02 * SECOND);
	});

	it('shows the end of a clip that is looked at, but the start of the next round of one that goes round', () => {
		const transport = made({ mode: 'repeat' });
		transport.seek(2 * SECOND);
		expect(transport.local).toBe(SECOND);
		transport.play(true);
		pass(1000);
		expect(transport.local).toBeCloseTo(0, 0);
		pass(250);
		expect(transport.local).toBeCloseTo(0.25 * SECOND, 0);
		// Between frame 7 and frame 8: it comes to rest on one of them, or where it is when told so.
		transport.restsOnFrames = false;
		transport.stop();
		expect(transport.local).toBeCloseTo(0.25 * SECOND, 0);
		transport.restsOnFrames = true;
		transport.play();
		pass(32);
		transport.stop();
		expect(transport.local).toBe(8 * 2400);
	});

	it('turns about at the ends of one that goes there and back, waits in pauses, and stops after its count', () => {
		const transport = made({ mode: 'alternate', count: 2, pause: SECOND / 4 });
		transport.play();
		pass(1125);
		expect(transport.local).toBeCloseTo(SECOND, 0);
		pass(375);
		expect(transport.local).toBeCloseTo(0.75 * SECOND, 0);
		pass(2000);
		expect(transport.playing).toBe(false);
	});

	it('goes round in a range that was drawn in either direction, however long a picture takes', () => {
		const transport = made();
		transport.setRange(0.8 * SECOND, 0.3 * SECOND);
		expect(transport.range).toEqual({ from: 0.3 * SECOND, to: 0.8 * SECOND });
		transport.play();
		expect(transport.local).toBeCloseTo(0.3 * SECOND, 0);
		pass(400);
		expect(transport.local).toBeCloseTo(0.7 * SECOND, 0);
		pass(1700, 1700);
		expect(transport.local).toBeGreaterThanOrEqual(0.3 * SECOND);
		expect(transport.local).toBeLessThan(0.8 * SECOND);
		transport.setRange(5, 5);
		expect(transport.range).toBe(null);
	});

	it('steps from frame to frame, and from between two of them to the next', () => {
		const transport = made();
		transport.seek(3000);
		transport.stepFrames(1, 30);
		expect(transport.local).toBe(2 * 2400);
		transport.stepFrames(-10, 30);
		expect(transport.local).toBe(0);
		transport.stepFrames(1000, 30);
		expect(transport.local).toBe(SECOND);
	});
});

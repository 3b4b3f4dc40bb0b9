import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { cancelFrame, nextPicture, nextTick } from './frames';

let frames: FrameRequestCallback[] = [];
const pass = (time: number) => {
	for (const next of frames.splice(0)) next(time);
};
beforeEach(() => {
	frames = [];
	vi.stubGlobal('requestAnimationFrame', (next: FrameRequestCallback) => frames.push(next));
	vi.stubGlobal('cancelAnimationFrame', () => (frames = []));
});
afterEach(() => vi.unstubAllGlobals());

it('a clock that asks for a picture in each of its frames gets one in each of its frames', () => {
	const seen: string[] = [];
	const draw = () => seen.push('picture');
	const tick = (time: number) => {
		seen.push(`tick ${time}`);
		nextPicture(draw);
		nextPicture(draw);
		if (time < 3) nextTick(tick);
	};
	nextTick(tick);
	for (let time = 1; time <= 5; time++) pass(time);
	expect(seen).toEqual(['tick 1', 'picture', 'tick 2', 'picture', 'tick 3', 'picture']);
});

it('what is asked for many times is done once, and what is taken back is not done', () => {
	const draw = vi.fn();
	const gone = vi.fn();
	for (let i = 0; i < 3; i++) nextPicture(draw);
	nextPicture(gone);
	cancelFrame(gone);
	pass(1);
	pass(2);
	expect(draw).toHaveBeenCalledTimes(1);
	expect(gone).not.toHaveBeenCalled();
	nextPicture(gone);
	cancelFrame(gone);
	expect(frames).toEqual([]);
});

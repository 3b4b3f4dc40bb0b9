import { describe, expect, it } from 'vitest';
import { DeviceSamples } from './device-samples';

/** A second of the clip from tick 7200 on. */
const TIME = { began: 1000, from: 7200, to: 79_200, speed: 1 };
const zero = () => 0;

describe('samples of a device', () => {
	it('have the times that the device says, not those of frames', () => {
		const samples = new DeviceSamples(TIME, [zero], false);
		for (const at of [1000, 1003.25, 1011, 1019.5, 1048]) samples.feed(at, [at]);
		const { times, columns } = samples.samplesOf(0, 1048)!;
		expect([...times]).toEqual([0, 3.25, 11, 19.5, 48].map((ms) => 7200 + 72 * ms));
		expect([...columns[0]]).toEqual([1000, 1003.25, 1011, 1019.5, 1048]);
	});

	it('stand still while the device is silent, and go on from there', () => {
		const samples = new DeviceSamples(TIME, [zero], false);
		for (const [at, v] of [
			[1010, 1],
			[1020, 1],
			[1510, 2],
			[1520, 2],
		])
			samples.feed(at, [v]);
		const { times, columns } = samples.samplesOf(0, 3000)!;
		const ms = [...times].map((t) => (t - 7200) / 72);
		expect(ms).toEqual([0, 10, 20, 502, 510, 520, 1000]);
		expect([...columns[0]]).toEqual([1, 1, 1, 1, 2, 2, 2]);
	});

	it('do not stand still between what a slow device says', () => {
		const samples = new DeviceSamples(TIME, [zero], false);
		for (let at = 1000; at < 2000; at += 80) samples.feed(at, [at]);
		const { times } = samples.samplesOf(0, 1960)!;
		expect([...times].map((t) => (t - 7200) / 72)).toEqual([...Array(13).keys()].map((i) => 80 * i));
	});

	it('recorded slowly they are played fast', () => {
		const samples = new DeviceSamples({ ...TIME, speed: 0.25 }, [zero], false);
		samples.feed(1000, [0]);
		samples.feed(1040, [1]);
		expect([...samples.samplesOf(0, 1040)!.times]).toEqual([7200, 7200 + 720]);
	});

	it('each round is its own, begun where the one before ended', () => {
		const samples = new DeviceSamples(TIME, [zero], false);
		samples.feed(1990, [5]);
		samples.feed(2030, [6]);
		expect([samples.roundAt(1999), samples.roundAt(2030)]).toEqual([0, 1]);
		const [first, second] = [0, 1].map((round) => samples.samplesOf(round, 2030)!);
		expect([first.times.at(-1), first.columns[0].at(-1)]).toEqual([79_200, 5]);
		expect([...second.times]).toEqual([7200, 7200 + 72 * 30]);
		expect([...second.columns[0]]).toEqual([5, 6]);
	});

	it('what is added follows the curve below while the device is silent', () => {
		const samples = new DeviceSamples(TIME, [(t) => t], true);
		samples.feed(1000, [10]);
		const { times, columns } = samples.samplesOf(0, 2000)!;
		expect(times.length).toBeGreaterThan(59);
		times.forEach((t, i) => expect(columns[0][i]).toBeCloseTo(t + 10, 2));
		const flat = new DeviceSamples(TIME, [(t) => t], false);
		flat.feed(1000, [10]);
		expect([...flat.samplesOf(0, 2000)!.columns[0]]).toEqual([7210, 7210]);
	});

	it('nothing is recorded while nothing is held', () => {
		const samples = new DeviceSamples(TIME, [zero], false);
		samples.feed(1000, null);
		samples.feed(1200, [1]);
		samples.feed(1230, [2]);
		samples.feed(1260, null);
		const { columns } = samples.samplesOf(0, 2000)!;
		expect([...columns[0]]).toEqual([NaN, NaN, 1, 2, NaN, NaN]);
		const none = new DeviceSamples(TIME, [zero], false);
		none.feed(1000, null);
		expect(none.samplesOf(0, 2000)).toBeNull();
	});

	it('events that come late stay in order', () => {
		const samples = new DeviceSamples(TIME, [zero], false);
		samples.feed(1020, [1]);
		samples.feed(1018, [2]);
		const { times } = samples.samplesOf(0, 1030)!;
		expect([...times]).toEqual([...new Set(times)].sort((a, b) => a - b));
	});
});

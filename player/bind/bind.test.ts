// @vitest-environment happy-dom
/** What a pose becomes on a page and on a scene. */
import { describe, expect, it, vi } from 'vitest';
import type { ClipFile, FileCurve } from '../file/format';
import { readClips } from '../file/read';
import { placeOf } from '../layout';
import { Player } from '../player';
import { bindToElements, playCalmly } from './dom';
import { bindToObjects } from './three';

const moves = (part: number, path: string, to: number): FileCurve => ({
	part,
	path,
	times: [0, 72_000],
	quantum: 0.25,
	values: [0, 4 * to],
	spans: 1,
});
const file: ClipFile = {
	format: 'hillock-clips',
	version: 1,
	ticks: 72_000,
	space: 'interface',
	parts: [
		{
			name: 'slip card',
			rest: { translation: [180, 40, 1], opacity: [1], custom: [0, 0, 0, 0, 0, 0, 0, 0] },
			numbers: { n1: 'soft blur' },
		},
		{ name: 'needle', parent: 0, rest: { reveal: [0, 0, 0, 0], visible: [1], colour: [1, 0, 0, 1] } },
	],
	shapes: [],
	clips: [
		{
			name: 'arrive',
			length: 72_000,
			curves: [
				moves(0, 'translation.x', 400),
				moves(0, 'translation.y', 40),
				moves(0, 'translation.z', 1),
				moves(0, 'opacity', 1),
				moves(0, 'custom.n1', 8),
				moves(1, 'rotation.z', 90),
				moves(1, 'scale.x', 2),
				moves(1, 'reveal.right', 1),
				moves(1, 'visible', 1),
			],
			vectors: [
				{
					part: 1,
					path: 'colour',
					mix: 'srgb',
					times: [0, 72_000],
					quantum: 0.25,
					rows: [4, 0, 0, 4, -4, 0, 4, -2],
					spans: 1,
				},
			],
			cues: [{ name: 'there', t: 72_000, payload: null }],
		},
		{ name: 'sway', length: 72_000, loop: { mode: 'repeat' }, curves: [moves(1, 'rotation.z', 90)] },
	],
	blends: [],
};

function shownAt(seconds: number) {
	document.body.innerHTML = `<div data-part="slip card"><i data-part="needle"></i></div><p data-part="other"></p>`;
	const set = readClips(file);
	const player = new Player(set);
	const show = bindToElements(set, document);
	player.play({ clip: 'arrive' });
	player.advance(seconds);
	show(player.pose);
	const [card, needle] = [...document.querySelectorAll<HTMLElement>('[data-part]')].map(({ style }) => style);
	return { card, needle, player, show };
}

describe('elements', () => {
	it('move from where the page has placed them, turn, grow, fade, open and change colour', () => {
		const { card, needle } = shownAt(0.5);
		expect(card.translate).toBe('20px -20px -0.5px');
		expect(card.opacity).toBe('0.5');
		expect(card.getPropertyValue('--soft-blur')).toBe('4');
		expect(needle.rotate).toBe('0 0 1 0.7854rad');
		expect(needle.scale).toBe('1 1 1');
		expect(needle.clipPath).toBe('inset(0% 50% 0% 0%)');
		expect(needle.visibility).toBe('');
		expect(needle.getPropertyValue('background-color').replace(/\s/g, '')).toMatch(/127\.5.*127\.5.*0\.75/);
		expect(shownAt(0.25).needle.visibility).toBe('hidden');
		expect(shownAt(0).needle.rotate).toBe('none');
	});

	it('are written to only where something has changed, and found by a map as well', () => {
		const { card, player, show } = shownAt(0.5);
		card.translate = 'kept';
		show(player.pose);
		expect(card.translate).toBe('kept');
		player.advance(0.1);
		show(player.pose);
		expect(card.translate).not.toBe('kept');
		const set = readClips(file);
		const own = document.createElement('b');
		bindToElements(set, new Map([['needle', own]]), { colour: 'fill' })(set.layout.rest);
		expect(own.style.getPropertyValue('fill')).not.toBe('');
	});
});

describe('whoever wants less motion', () => {
	it.each([
		['end' as const, 0, 1],
		['fade' as const, 0, 0],
		['fade' as const, 0.2, 1],
	])('sees the end of a clip by "%s", after %f s', (way, seconds, opacity) => {
		vi.stubGlobal('matchMedia', () => ({ matches: true }));
		const set = readClips(file);
		const cues: string[] = [];
		const player = new Player(set, { oncue: ({ cue }) => cues.push(cue.name) });
		player.play({ clip: 'arrive' });
		playCalmly(player, set, { clip: 'arrive' }, way);
		player.advance(seconds);
		expect(player.pose[placeOf(set.layout, 'slip card', 'opacity')]).toBeCloseTo(opacity, 9);
		player.advance(5);
		expect(cues).toEqual([]);
		playCalmly(player, set, { clip: 'sway' });
		player.advance(3);
		expect(player.pose[placeOf(set.layout, 'needle', 'angles') + 2]).toBe(0);
		vi.unstubAllGlobals();
	});

	it('gets it all where nothing was asked for', () => {
		vi.stubGlobal('matchMedia', () => ({ matches: false }));
		const set = readClips(file);
		const player = new Player(set);
		playCalmly(player, set, { clip: 'arrive' });
		player.advance(0.5);
		expect(player.pose[placeOf(set.layout, 'slip card', 'opacity')]).toBeCloseTo(0.5, 9);
		vi.unstubAllGlobals();
	});
});

it('objects of a scene stand as the nodes of a glTF file do', () => {
	const made = () => ({ position: vi.fn(), quaternion: vi.fn(), scale: vi.fn(), visible: true });
	const [card, needle] = [made(), made()];
	const like = (own: ReturnType<typeof made>) => ({
		position: { set: own.position },
		quaternion: { set: own.quaternion },
		scale: { set: own.scale },
		set visible(is: boolean) {
			own.visible = is;
		},
	});
	const objects: Record<string, ReturnType<typeof like>> = { slip_card: like(card), needle: like(needle) };
	const set = readClips(file);
	const player = new Player(set);
	const show = bindToObjects(set, { getObjectByName: (name) => objects[name] });
	player.play({ clip: 'arrive' });
	player.advance(0.25);
	show(player.pose);
	// 100 px, 10 px down and 0.25 px: metres, y up.
	card.position.mock.lastCall!.forEach((v: number, k: number) =>
		expect(v).toBeCloseTo([1, -0.1, 0.0025][k], 9),
	);
	const quarter = Math.PI / 16;
	needle.quaternion.mock.lastCall!.forEach((v: number, k: number) =>
		expect(v).toBeCloseTo([0, 0, -Math.sin(quarter), Math.cos(quarter)][k], 9),
	);
	expect(needle.scale.mock.lastCall).toEqual([0.5, 1, 1]);
	expect([card.visible, needle.visible]).toEqual([true, false]);
});

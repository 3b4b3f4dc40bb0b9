// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { dragsPart, takesPart, watchPartDrags, type DropPlace } from './tree-drag';

const HEIGHT = 20;
const told: unknown[] = [];
let edges: ('before' | 'after')[] = ['before', 'after'];
let locked = false;
let ends: (() => void)[] = [];

function row(): HTMLElement {
	const element = document.createElement('div');
	element.getBoundingClientRect = () => new DOMRect(0, 100, 200, HEIGHT);
	document.body.append(element);
	return element;
}
const frame = () => new Promise((resolve) => setTimeout(resolve, 40));
function fire(type: string, target: Element, y: number): void {
	const event = new MouseEvent(type, { bubbles: true, cancelable: true, clientX: 5, clientY: y });
	Object.assign(event, { dataTransfer: new DataTransfer() });
	target.dispatchEvent(event);
}

/** Drags one row over another and lets go there, each at a height of its row. */
async function drag(from: Element, to: Element, y: number): Promise<void> {
	fire('dragstart', from, 110);
	await frame();
	fire('dragenter', to, y);
	fire('dragover', to, y);
	await frame();
	fire('drop', to, y);
	fire('dragend', from, y);
	await frame();
}

let sack: HTMLElement;
let crane: HTMLElement;
beforeEach(() => {
	told.length = 0;
	edges = ['before', 'after'];
	locked = false;
	vi.spyOn(document, 'elementFromPoint').mockImplementation(() => null);
	[sack, crane] = [row(), row()];
	const taker = {
		accepts: (id: string) => id === 'sack',
		edges: () => edges,
		over: (place: DropPlace | null) => told.push(place),
		drop: (id: string, place: DropPlace) => told.push([id, place]),
	};
	const attached = [
		dragsPart('sack', () => !locked)(sack),
		dragsPart('kelp', () => true)(crane),
		takesPart(taker)(crane),
	];
	ends = [...attached.map((end) => end ?? (() => {})), watchPartDrags((going) => told.push(going))];
});
afterEach(() => {
	ends.forEach((end) => end());
	document.body.replaceChildren();
	vi.restoreAllMocks();
});

describe('a part that is let go on the row of another', () => {
	it('comes before it at the upper edge, after it at the lower one, and hangs on it between', async () => {
		for (const [share, place] of [
			[0.1, 'before'],
			[0.5, 'on'],
			[0.9, 'after'],
		] as const) {
			told.length = 0;
			await drag(sack, crane, 100 + share * HEIGHT);
			expect(told.filter((one) => Array.isArray(one))).toEqual([['sack', place]]);
			expect(told).toContain(place);
		}
	});

	it('hangs on it at its edges too where it has no places beside it', async () => {
		edges = [];
		await drag(sack, crane, 101);
		expect(told).toContainEqual(['sack', 'on']);
	});

	it('is told while it is dragged, and no more when it is let go', async () => {
		await drag(sack, crane, 110);
		expect(told.filter((one) => typeof one === 'boolean')).toEqual([true, false]);
	});

	it('stays where it is when it is locked, or is not taken there', async () => {
		locked = true;
		await drag(sack, crane, 110);
		await drag(crane, crane, 110);
		expect(told.filter((one) => Array.isArray(one))).toEqual([]);
	});
});

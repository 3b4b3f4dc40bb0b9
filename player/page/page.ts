/** What a page that plays a clip file has, whatever shows its poses: a list of what can be done, a clock, a log. */
import { Player } from '../player';
import { readClips, type ReadClips } from '../file/read';
import { playCalmly } from '../bind/dom';
import type { PageData } from './looks';

export interface Stage {
	show(pose: Float64Array): void;
	/** After a pose is shown, or the window has another size. */
	draw?(): void;
	/** The part under the pointer. */
	partAt(event: MouseEvent): string | undefined;
}

export const find = <E extends HTMLElement>(id: string) => document.getElementById(id) as E;
const data = (id: string): unknown => JSON.parse(find(id).textContent);

/** Lines of the log that are kept. */
const MOST_LINES = 50;
function tell(text: string): void {
	const line = document.createElement('li');
	line.textContent = text;
	find('told').prepend(line);
	if (find('told').children.length > MOST_LINES) find('told').lastElementChild!.remove();
}

/** Frames that come late, as after a tab has slept, do not make up for it. */
const LONGEST_FRAME = 0.2;

function button(text: string, act: () => void): HTMLButtonElement {
	const own = document.createElement('button');
	own.textContent = text;
	own.onclick = act;
	return own;
}

function slider(name: string, change: (value: number) => void): HTMLLabelElement {
	const label = document.createElement('label');
	const input = document.createElement('input');
	Object.assign(input, { type: 'range', min: '0', max: '1', step: '0.01', value: '0' });
	input.oninput = () => change(Number(input.value));
	label.append(name, input);
	return label;
}

const each = (names: Iterable<string | undefined | null>) =>
	[...new Set(names)].filter((name): name is string => typeof name === 'string');

/** Buttons for clips and triggers, sliders for parameters. */
function fill(player: Player, set: ReadClips): void {
	const { clips, triggers = [], layers = [] } = set;
	find('clips').append(
		...[...clips.keys()].map((clip) => button(clip, () => playCalmly(player, set, { clip }))),
	);
	const calls = each(triggers.map(({ when }) => (when.kind === 'call' ? when.name : null)));
	const parameters = each([
		...triggers.map(({ when }) => (when.kind === 'parameter' ? when.name : null)),
		...layers.map(({ parameter }) => parameter),
		...[...clips.values()].map(({ mix }) => mix?.parameter),
	]);
	find('acts').append(
		...calls.map((name) => button(name, () => player.trigger(name))),
		...parameters.map((name) => slider(name, (value) => player.set(name, value))),
	);
	find('acts').hidden = calls.length + parameters.length === 0;
}

const inWords = ({ name, payload }: { name: string; payload: unknown }) =>
	payload === null ? name : `${name} ${JSON.stringify(payload)}`;

/** Passes taps, what the pointer goes over, and keys on to the triggers. */
function listen(player: Player, { partAt }: Stage): void {
	const place = find('stage');
	let over: string | undefined;
	place.onclick = (event) => {
		const part = partAt(event);
		if (part !== undefined) player.send({ kind: 'tap', part });
	};
	place.onpointermove = (event) => {
		const part = partAt(event);
		if (part === over) return;
		if (over !== undefined) player.send({ kind: 'leave', part: over });
		over = part;
		if (part !== undefined) player.send({ kind: 'enter', part });
		place.style.cursor = part === undefined ? '' : 'pointer';
	};
	addEventListener('keydown', ({ key, target }) => {
		if (!(target as HTMLElement).matches('input, button'))
			player.send({ kind: 'key', key: key === ' ' ? 'Space' : key });
	});
}

/** Plays the file that is written on the page, on a stage that is made for it. */
export function run(makeStage: (set: ReadClips, page: PageData) => Stage): void {
	const set = readClips(data('clip-file'));
	const stage = makeStage(set, data('page-data') as PageData);
	const player = new Player(set, {
		oncue: ({ clip, cue }) => tell(`${clip.name}: ${inWords(cue)}`),
		onmessage: (message) => tell(inWords(message)),
	});
	fill(player, set);
	listen(player, stage);
	const isCalm = matchMedia('(prefers-reduced-motion: reduce)').matches;
	if (!isCalm) player.start();
	if (!isCalm && player.playing.length === 0) player.play({ clip: [...set.clips.keys()][0] });
	tell('Ready.');
	let last = performance.now();
	requestAnimationFrame(function frame(now) {
		player.advance(Math.min(LONGEST_FRAME, Math.max(0, now - last) / 1000));
		last = now;
		stage.show(player.pose);
		stage.draw?.();
		requestAnimationFrame(frame);
	});
	Object.assign(globalThis, { player });
}

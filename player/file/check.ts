/** What is wrong with a clip file: it is played as a whole, or refused with the place where it is no such file. */
import { END_KINDS } from '../curve/flat';
import { EASING_FAMILIES, EASING_WAYS, STEP_JUMPS } from '../easing/shape';
import { COLOUR_SPACES } from '../maths/colour';
import { EULER_ORDERS } from '../maths/quaternion';
import { FILE_BEZIER, FILE_CUBIC, FILE_SHAPE, NAMED } from './format';

type Body = Record<string, unknown>;
/** Looks at a value, which stands at a JSON pointer; throws a TypeError with that where it is not what it should be. */
type Check = (value: unknown, at: string) => void;

const MOST = 1e12;
const MOST_TICKS = 1e10;
/** Paths besides those whose numbers have names. */
const SINGLE = ['opacity', 'visible', 'radius', 'stroke', 'fieldOfView'];

function refuse(at: string, why: string): never {
	throw new TypeError(`${at}: ${why}`);
}

const number =
	(low = -MOST, high = MOST): Check =>
	(value, at) => {
		if (!(typeof value === 'number' && value >= low && value <= high))
			refuse(at, `must be a number from ${low} to ${high}`);
	};
const whole =
	(low: number, high: number): Check =>
	(value, at) => {
		if (!(Number.isInteger(value) && (value as number) >= low && (value as number) <= high))
			refuse(at, `must be a whole number from ${low} to ${high}`);
	};
const text: Check = (value, at) => {
	if (typeof value !== 'string' || value === '') refuse(at, 'must be a text');
};
const one =
	(of: readonly unknown[]): Check =>
	(value, at) => {
		if (!of.includes(value)) refuse(at, `must be one of ${of.slice(0, 9).join(', ')}`);
	};
const list =
	(each: Check, least = 0, most = Infinity): Check =>
	(value, at) => {
		if (!Array.isArray(value) || value.length < least || value.length > most)
			refuse(at, `must be a list of ${least === most ? least : `${least} or more`}`);
		value.forEach((own, i) => each(own, `${at}/${i}`));
	};
/** An object; members with a question mark behind their name may be absent. */
const body =
	(members: Record<string, Check>): Check =>
	(value, at) => {
		if (typeof value !== 'object' || value === null || Array.isArray(value)) refuse(at, 'must be an object');
		for (const [called, check] of Object.entries(members)) {
			const name = called.replace('?', '');
			const own = (value as Body)[name];
			if (own !== undefined || name === called) check(own, `${at}/${name}`);
		}
	};
const kinds =
	(of: Record<string, Record<string, Check>>): Check =>
	(value, at) => {
		body({ kind: one(Object.keys(of)) })(value, at);
		body(of[(value as { kind: string }).kind])(value, at);
	};
const finite = number();
const anything: Check = () => {};
const flag = one([true, false]);
const share = number(0, 1);
const seconds = number(0, 1e6);
const rounds: Check = (value, at) => value === null || whole(1, 1e9)(value, at);

const shape = kinds({
	linear: {},
	hold: {},
	fall: {},
	rise: {},
	eased: { start: share, finish: share },
	bezier: { x1: share, y1: finite, x2: share, y2: finite },
	family: {
		family: one(EASING_FAMILIES),
		way: one(EASING_WAYS),
		'overshoot?': finite,
		'amplitude?': finite,
		'period?': number(1e-6),
	},
	steps: { count: whole(1, 1e6), jump: one(STEP_JUMPS) },
	stops: { stops: list(body({ x: finite, y: finite }), 2) },
	spring: {
		mass: number(1e-9),
		stiffness: number(1e-9),
		damping: number(1e-9),
		velocity: finite,
		'seconds?': number(1e-9, 1e6),
	},
	bounce: { restitution: share, count: whole(0, 1000) },
});

/** Differences that add up to times, which rise. */
const times: Check = (value, at) => {
	list(whole(-MOST_TICKS, MOST_TICKS), 1)(value, at);
	(value as number[]).forEach((by, i) => i > 0 && by <= 0 && refuse(`${at}/${i}`, 'must be above 0'));
};

/** As many numbers for each key, of which the sums may not grow beyond all bounds. */
function checkRows({ times, quantum }: Body, rows: unknown, stride: number, at: string): void {
	const size = stride * (times as []).length;
	list(whole(-(2 ** 53), 2 ** 53), size, size)(rows, at);
	const sums = new Array<number>(stride).fill(0);
	(rows as number[]).forEach((by, i) => {
		sums[i % stride] += by;
		finite(sums[i % stride] * (quantum as number), `${at}/${i}`);
	});
}

/** Spans, as many as lie between the keys, and all numbers that they need. */
function checkSpans({ times, spans }: Body, shapes: number, at: string): void {
	const code = whole(0, FILE_SHAPE + shapes - 1);
	const count = (times as []).length - 1;
	if (typeof spans === 'number') {
		code(spans, at);
		if (spans === FILE_CUBIC || spans === FILE_BEZIER) refuse(at, 'needs numbers of each span');
		return;
	}
	list(whole(-(2 ** 53), 2 ** 53))(spans, at);
	const all = spans as number[];
	let next = 0;
	for (let i = 0; i < count; i++) {
		code(all[next], `${at}/${next}`);
		if (all[next] === FILE_BEZIER)
			for (const reach of [1, 2]) whole(0, 2 ** 20)(all[next + reach], `${at}/${next + reach}`);
		next += all[next] === FILE_CUBIC ? 3 : all[next] === FILE_BEZIER ? 5 : 1;
	}
	if (next !== all.length) refuse(at, `must be of ${count} spans`);
}

const end = one(END_KINDS);
const keyed = { times, quantum: number(1e-30), 'before?': end, 'after?': end };

function checkClip(parts: number, shapes: number): Check {
	const part = whole(0, parts - 1);
	const path: Check = (value, at) => {
		text(value, at);
		const [own, component] = (value as string).split('.');
		const names = Object.hasOwn(NAMED, own) ? NAMED[own] : null;
		if (names ? !names.includes(component) : !SINGLE.includes(value as string))
			refuse(at, 'is no path of a curve');
	};
	const curve: Check = (value, at) => {
		body({
			...keyed,
			part,
			path,
			values: list(anything),
			'slopes?': list(finite, 2, 2),
			'gain?': finite,
		})(value, at);
		const own = value as Body;
		checkRows(own, own.values, 1, `${at}/values`);
		checkSpans(own, shapes, `${at}/spans`);
	};
	const vector: Check = (value, at) => {
		body({ ...keyed, part, path: one(['colour', 'orientation']), mix: one([...COLOUR_SPACES, 'turn']) })(
			value,
			at,
		);
		const own = value as Body;
		if ((own.path === 'orientation') !== (own.mix === 'turn')) refuse(`${at}/mix`, 'is for the other path');
		checkRows(own, own.rows, 4, `${at}/rows`);
		checkSpans(own, shapes, `${at}/spans`);
		const spans = (own.times as []).length - 1;
		const row: Check = (tangent, place) => tangent === null || list(finite, 8, 8)(tangent, place);
		if (own.tangents !== undefined) list(row, spans, spans)(own.tangents, `${at}/tangents`);
	};
	return (value, at) => {
		const ticks = number(0, MOST_TICKS);
		body({
			name: text,
			length: ticks,
			'loop?': body({
				mode: one(['once', 'repeat', 'alternate']),
				'count?': rounds,
				'pause?': ticks,
			}),
			curves: list(curve),
			'vectors?': list(vector),
			'cues?': list(body({ name: text, t: ticks })),
		})(value, at);
		const { loop, length } = value as { loop?: Body; length: number };
		if (loop && loop.mode !== 'once' && length === 0) refuse(`${at}/length`, 'must be above 0 to go round');
	};
}

/** Names, each once, as others refer to them. */
function namesOf(of: unknown, at: string): string[] {
	const names = (of as { name: string }[]).map(({ name }) => name);
	const twice = names.findIndex((name, i) => names.indexOf(name) < i);
	if (twice >= 0) refuse(`${at}/${twice}/name`, 'is used twice');
	return names;
}

function checkParts(parts: unknown): void {
	list(anything)(parts, '/parts');
	(parts as unknown[]).forEach((part, i) => {
		const at = `/parts/${i}`;
		body({
			name: text,
			'parent?': whole(0, i - 1),
			'order?': one(EULER_ORDERS),
			'rest?': body({}),
			'numbers?': body({}),
		})(part, at);
		for (const [path, numbers] of Object.entries((part as { rest?: Body }).rest ?? {})) {
			const size = NAMED[path]?.length ?? (path === 'colour' ? 4 : 1);
			list(finite, size, size)(numbers, `${at}/rest/${path}`);
		}
		for (const [key, called] of Object.entries((part as { numbers?: Body }).numbers ?? {}))
			text(called, `${at}/numbers/${key}`);
	});
}

const BLENDS = one(['crossfade', 'inertial', 'cut']);

function checkActs(file: Body, played: readonly string[], parts: readonly string[]): void {
	const layers = file.layers === undefined ? [] : file.layers;
	list(
		body({
			name: text,
			'mode?': one(['replace', 'add']),
			'weight?': share,
			'parts?': list(one(parts)),
			'parameter?': text,
		}),
	)(layers, '/layers');
	const [clip, layer] = [one(played), one(namesOf(layers, '/layers'))];
	const part = { part: one(parts) };
	const when = kinds({
		start: {},
		call: { name: text },
		tap: part,
		enter: part,
		leave: part,
		key: { key: text },
		button: { button: whole(0, 1000) },
		parameter: { name: text, way: one(['above', 'below']), value: finite },
		cue: { clip, cue: text },
		end: { clip },
	});
	const then = kinds({
		play: { clip, 'layer?': layer, 'count?': rounds, 'queued?': flag },
		toggle: { clip, 'other?': clip, 'layer?': layer },
		stop: { 'layer?': layer, 'seconds?': seconds, 'withRound?': flag },
		weigh: { layer, weight: share, 'seconds?': seconds },
		tell: { name: text },
	});
	body({ 'triggers?': list(body({ when, then, 'delay?': seconds })) })(file, '');
}

/** Throws a TypeError that begins with a JSON pointer where a file is not what it should be. */
export function checkFile(file: Body): void {
	checkParts(file.parts);
	body({ space: one(['world', 'interface']), shapes: list(shape), clips: list(anything) })(file, '');
	const parts = namesOf(file.parts, '/parts');
	list(checkClip(parts.length, (file.shapes as []).length))(file.clips, '/clips');
	const clips = file.clips as { length: number }[];
	const place = whole(0, clips.length - 1);
	const start: Check = (value, at) => value === 'phase' || body({ seconds })(value, at);
	const blend = { from: place, to: place, kind: BLENDS, seconds, 'start?': start };
	const stops = list(body({ clip: place, at: finite }), 2);
	body({
		blends: list(body({ ...blend, 'ease?': body({ quantum: number(1e-30) }) })),
		'mixes?': list(body({ name: text, parameter: text, seconds, stops })),
	})(file, '');
	(file.blends as { ease?: Body }[]).forEach(({ ease }, i) => {
		if (ease)
			checkSpans({ times: [0, 1], spans: ease.span }, (file.shapes as []).length, `/blends/${i}/ease/span`);
	});
	const mixes = (file.mixes ?? []) as { stops: { clip: number; at: number }[] }[];
	mixes.forEach((mix, i) => {
		if (new Set(mix.stops.map(({ at }) => at)).size < mix.stops.length)
			refuse(`/mixes/${i}/stops`, 'must be at different places');
		mix.stops.forEach(({ clip }, n) => {
			if (clips[clip].length === 0) refuse(`/mixes/${i}/stops/${n}/clip`, 'must last some time');
		});
	});
	checkActs(file, namesOf([...clips, ...mixes], '/clips'), parts);
}

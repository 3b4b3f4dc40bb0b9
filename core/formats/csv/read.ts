/** Tables as clips: a column a number, a row a moment. Source: RFC 4180. */
import { shortName } from '../../text';
import Papa from 'papaparse';
import { TICKS_PER_SECOND } from '../../../player/time';
import type { Four } from '../../../player/maths/vector';
import type { Key } from '../../curve/types';
import { channelLabel } from '../../document/labels';
import { AXES, componentsOf, PROPERTIES, type Component, type Property } from '../../document/types';
import { fail, type Result } from '../../result';
import type { FileIn, TakenIn } from '../format';
import { textOf } from '../head';
import { Incoming, type NewPart } from '../incoming/document';
import { LINEAR, switchKeys } from '../incoming/sampled-keys';
import type { Space } from '../../pose/space';

/** What a column is of. */
interface Column {
	at: number;
	part: string;
	property: Property;
	component: Component;
	/** Of a colour or an orientation, which of its four numbers. */
	index?: number;
	/** Of a number of one's own, its name. */
	name?: string;
	/** What its numbers are multiplied by, as its unit says. */
	factor: number;
}

const TIME = /^(t|time|times?tamp|seconds?|secs?|ms|milliseconds?|frames?)\b/i;
const UNIT = /\s*[[(]([^\])]*)[\])]\s*$/;
/** What other programs call the properties that have axes. */
const CALLED: readonly [RegExp, Property][] = [
	[/^(pos(ition)?|trans(late|lation)?|loc(ation)?)$/i, 'translation'],
	[/^(rot(ation|ate)?|euler|angles?)$/i, 'rotation'],
	[/^scale$/i, 'scale'],
	[/^size$/i, 'size'],
];
/** Units other than metres, degrees and shares of one. */
const FACTORS: Readonly<Record<string, number>> = {
	mm: 0.001,
	cm: 0.01,
	km: 1000,
	in: 0.0254,
	ft: 0.3048,
	rad: 180 / Math.PI,
	radians: 180 / Math.PI,
	turns: 360,
	rev: 360,
	'%': 0.01,
};
/** Labels as they are written, longest first: `reveal top` before `top`. */
const LABELS = PROPERTIES.filter((property) => property !== 'custom' && property !== 'weight')
	.flatMap((property) => componentsOf(property).map((component) => ({ property, component })))
	.map((own) => ({ ...own, label: channelLabel(own.property, own.component) }))
	.sort((a, b) => b.label.length - a.label.length);
const FOURS: readonly [Property, readonly string[]][] = [
	['colour', ['r', 'g', 'b', 'alpha']],
	['orientation', ['x', 'y', 'z', 'w']],
];

/** What a head says: as it is written here, or as others write it; else a number of one's own. */
function columnOf(head: string, at: number): Column {
	const unit = UNIT.exec(head)?.[1].trim().toLowerCase() ?? '';
	const meaning = meaningOf(head.replace(UNIT, '').trim(), at);
	// A number of one's own is counted as it is.
	return { at, factor: meaning.name === undefined ? (FACTORS[unit] ?? 1) : 1, ...meaning };
}

function meaningOf(plain: string, at: number): Omit<Column, 'at' | 'factor'> {
	for (const [property, letters] of FOURS)
		for (const [index, letter] of letters.entries()) {
			const label = `${property} ${letter}`;
			if (plain === label || plain.endsWith(` ${label}`))
				return { part: plain.slice(0, -label.length).trim(), property, component: 'value', index };
		}
	for (const { label, property, component } of LABELS)
		if (plain === label || plain.endsWith(` ${label}`))
			return { part: plain.slice(0, -label.length).trim(), property, component };
	const words = plain.split(/[\s._/:-]+/);
	const axis = words.at(-1)?.toLowerCase() ?? '';
	const component = AXES.find((own) => own === axis);
	const property = CALLED.find(([called]) => called.test(words.at(-2) ?? ''))?.[1];
	if (component && property) {
		const part = plain.slice(0, plain.lastIndexOf(words.at(-2)!)).replace(/[\s._/:-]+$/, '');
		return {
			part,
			property,
			component,
		};
	}
	// A letter of an axis behind a name, or alone: where something is.
	if (component)
		return { part: plain.slice(0, -1).replace(/[\s._/:-]+$/, ''), property: 'translation', component };
	return { part: '', property: 'custom', component: 'n0', name: plain || `column ${at + 1}` };
}

interface Table {
	heads: string[];
	rows: string[][];
}

const isNumber = (text: string | undefined) =>
	text !== undefined && text.trim() !== '' && Number.isFinite(Number(text));

function tableOf(text: string): Result<Table> {
	const { data, errors } = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' });
	const bad = errors.find(({ type }) => type === 'Quotes');
	if (bad) return fail('', `Row ${(bad.row ?? 0) + 1}: ${bad.message}.`);
	const [first, ...rest] = data;
	if (!first || rest.length === 0) return fail('', 'The table has no rows.');
	if (first.every(isNumber))
		return { ok: true, value: { heads: first.map((_, i) => (i === 0 ? 'time' : '')), rows: data } };
	return { ok: true, value: { heads: first, rows: rest } };
}

/** Ticks of a column of times by its head and its unit, and how many rows a second it seems to have. */
function tickFactor(head: string): number {
	const unit = (UNIT.exec(head)?.[1] ?? '').toLowerCase();
	const plain = head.replace(UNIT, '').trim().toLowerCase();
	if (unit === 'ms' || /^(ms|milliseconds?)$/.test(plain)) return TICKS_PER_SECOND / 1000;
	if (/^frames?$/.test(unit || plain)) return TICKS_PER_SECOND / 30;
	return TICKS_PER_SECOND;
}

const look = (space: Space) => (): NewPart => ({
	drawing:
		space === 'world'
			? { kind: 'box', size: [0.4, 0.4, 0.4], offset: [0, 0, 0] }
			: { kind: 'card', size: [48, 32, 0], radius: 4, offset: [0, 0, 0] },
});

class CsvReader {
	private readonly incoming: Incoming;
	private readonly columns: Column[];
	private readonly clipAt: number;
	private readonly timeAt: number;

	constructor(
		private readonly table: Table,
		private readonly name: string,
	) {
		const { heads } = table;
		this.clipAt = heads.findIndex((head) => /^clip$/i.test(head.trim()));
		this.timeAt = heads.findIndex((head, i) => i !== this.clipAt && TIME.test(head.trim()));
		const others = heads.flatMap((head, at) =>
			at === this.clipAt || at === this.timeAt ? [] : [{ head, at }],
		);
		this.columns = others.map(({ head, at }) => columnOf(head, at));
		const space: Space = heads.some((head) => UNIT.exec(head)?.[1] === 'px') ? 'interface' : 'world';
		this.space = space;
		this.incoming = new Incoming(name, space, 30);
	}
	private readonly space: Space;

	private times(rows: readonly string[][]): Result<number[]> {
		const factor = tickFactor(this.table.heads[this.timeAt]);
		const first = Number(rows[0][this.timeAt]);
		const times: number[] = [];
		for (const [i, row] of rows.entries()) {
			const t = Math.round((Number(row[this.timeAt]) - first) * factor);
			if (!isNumber(row[this.timeAt]) || (i > 0 && t <= times[i - 1]))
				return fail(
					'',
					`“${shortName(row[this.timeAt], 40)}” is no time after the one in the row before it.`,
				);
			times.push(t);
		}
		return { ok: true, value: times };
	}

	private addClip(clipName: string, rows: readonly string[][]): Result<null> {
		const times = this.times(rows);
		if (!times.ok) return times;
		const clip = this.incoming.clip(clipName, times.value.at(-1)!).id;
		const fours = new Map<string, { column: Column; four: (number[] | undefined)[]; times: number[] }>();
		for (const column of this.columns) {
			const seen = rows.flatMap((row, i) =>
				isNumber(row[column.at]) ? [{ t: times.value[i], v: column.factor * Number(row[column.at]) }] : [],
			);
			if (seen.length === 0) continue;
			const part = this.incoming.part(column.part || this.name, look(this.space)).id;
			const [own, values] = [seen.map(({ t }) => t), seen.map(({ v }) => v)];
			if (column.index !== undefined) {
				const key = `${part} ${column.property}`;
				const known = fours.get(key) ?? { column, four: [], times: own };
				known.four[column.index] = values;
				fours.set(key, known);
				continue;
			}
			this.addNumbers(clip, part, column, own, values);
		}
		for (const [key, { column, four, times }] of fours)
			this.addFour(clip, key.split(' ')[0], column.property, four, times);
		return { ok: true, value: null };
	}

	/** A number of one's own, on the first of the parts of this name that has room for it. */
	private ownNumber(
		part: string,
		name: string,
		values: readonly number[],
	): [part: string, component: Component] {
		const base = this.incoming.parts.get(part)!.name;
		for (let k = 2; ; k++) {
			const component = this.incoming.number(part, name, values);
			if (component !== null) return [part, component];
			part = this.incoming.part(`${base} ${k}`, look(this.space)).id;
		}
	}

	private addNumbers(clip: string, on: string, column: Column, times: number[], values: number[]): void {
		const { property, name } = column;
		const [part, component] = name === undefined ? [on, column.component] : this.ownNumber(on, name, values);
		const place = { clip, part, property, component };
		if (property === 'visible') this.incoming.addChannel({ ...place, keys: switchKeys(times, values) });
		else this.incoming.addSamples(place, times, values);
		if (!this.incoming.has({ clip, part, property, component }) && values.some((v) => v !== values[0]))
			this.incoming.leftOut.push(
				`${this.table.heads[column.at]}: the part that it becomes has no such property`,
			);
	}

	private addFour(
		clip: string,
		part: string,
		property: Property,
		four: readonly (number[] | undefined)[],
		times: number[],
	): void {
		const vectors = times.map(
			(_, i) => [0, 1, 2, 3].map((k) => four[k]?.[i] ?? (k === 3 ? 1 : 0)) as unknown as Four,
		);
		if (property === 'colour') {
			this.incoming.addColours({ clip, part }, times, vectors);
			return;
		}
		const keys = times.map((t, i): Key => ({ t, v: 0, shape: LINEAR, vector: vectors[i] }));
		const kept = keys.filter(
			({ vector }, i) =>
				i === 0 ||
				!vector!.every((v, k) => v === vectors[i - 1][k]) ||
				(i + 1 < vectors.length && !vector!.every((v, k) => v === vectors[i + 1][k])),
		);
		this.incoming.addChannel({ clip, part, property, keys: kept });
	}

	async read(): Promise<Result<TakenIn>> {
		if (this.timeAt < 0)
			return fail('', 'There is no column of times: call one “time [s]”, “time [ms]” or “frame”.');
		const groups = new Map<string, string[][]>();
		for (const row of this.table.rows) {
			const clip = this.clipAt < 0 ? this.name : (row[this.clipAt] ?? '');
			const known = groups.get(clip);
			if (known) known.push(row);
			else groups.set(clip, [row]);
		}
		for (const [clip, rows] of groups) {
			const added = this.addClip(clip, rows);
			if (!added.ok) return added;
		}
		return this.incoming.finishRecorded('No column of the table changes.');
	}
}

export async function takeCsv({ bytes, name }: FileIn): Promise<Result<TakenIn>> {
	const text = textOf(bytes);
	if (!text.ok) return text;
	const table = tableOf(text.value);
	return table.ok ? new CsvReader(table.value, name).read() : table;
}

/** Rows `{clip, target, path, t, value}`, as `hillock sample` prints them: metres, y up, unit quaternions, linear light. */
import { srgbFromLinear } from '../../../player/maths/colour';
import { closestEuler, toEuler, type Quaternion } from '../../../player/maths/quaternion';
import type { Four, Vec3 } from '../../../player/maths/vector';
import { TICKS_PER_SECOND } from '../../../player/time';
import { AXES } from '../../document/types';
import { writeHex } from '../../pose/hex';
import { parseJson } from '../../json';
import { fail, ok, type Result } from '../../result';
import { shortName } from '../../text';
import type { FileIn, TakenIn } from '../format';
import { textOf } from '../head';
import { Incoming } from '../incoming/document';
import { switchKeys } from '../incoming/sampled-keys';
import type { SampleRow } from './write';

/** How many numbers each path has that is read as what it is; all others are numbers of one's own. */
const WIDTHS: Readonly<Record<string, number>> = {
	translation: 3,
	rotation: 4,
	scale: 3,
	size: 3,
	colour: 4,
	visible: 1,
};
const MOST_WIDTH = 8;

const isText = (own: unknown): own is string => typeof own === 'string';
const isFinite = (own: unknown): own is number => Number.isFinite(own);

function isRow(own: unknown): own is SampleRow {
	if (typeof own !== 'object' || own === null) return false;
	const { clip, target, path, t, value } = own as Partial<Record<keyof SampleRow, unknown>>;
	return (
		isText(clip) &&
		isText(target) &&
		isText(path) &&
		isFinite(t) &&
		Array.isArray(value) &&
		value.every(isFinite)
	);
}

/** What one path of a part says over a clip. */
interface Column {
	row: SampleRow;
	times: number[];
	values: number[][];
}

function columnsOf(rows: readonly unknown[]): Result<Column[]> {
	const columns = new Map<string, Column>();
	for (const [i, row] of rows.entries()) {
		const where = `/${i}`;
		if (!isRow(row))
			return fail(
				where,
				'It is no row with clip, target, path, t in seconds and value as a list of numbers.',
			);
		const key = JSON.stringify([row.clip, row.target, row.path]);
		const width = WIDTHS[row.path] ?? columns.get(key)?.row.value.length ?? row.value.length;
		if (row.value.length !== width || width < 1 || width > MOST_WIDTH)
			return fail(where, `The value of a ${shortName(row.path, 40)} has ${row.value.length} numbers.`);
		const column = columns.get(key) ?? { row, times: [], values: [] };
		const t = Math.round(row.t * TICKS_PER_SECOND);
		if (t < 0 || t <= (column.times.at(-1) ?? -1))
			return fail(where, `${row.t} s is no time after the one in the row before it.`);
		column.times.push(t);
		column.values.push(row.value);
		columns.set(key, column);
	}
	return ok([...columns.values()]);
}

class SamplesReader {
	readonly incoming: Incoming;

	constructor(name: string) {
		this.incoming = new Incoming(name, 'world', 30);
	}

	add({ row, times, values }: Column): void {
		const { incoming } = this;
		const clip = incoming.clip(row.clip, times.at(-1)!).id;
		const part = incoming.part(row.target, () => ({
			drawing: { kind: 'box', size: [0.4, 0.4, 0.4], offset: [0, 0, 0] },
		})).id;
		const at = (k: number) => values.map((own) => own[k]);
		switch (row.path) {
			case 'translation':
			case 'scale':
			case 'size':
				for (const [k, component] of AXES.entries())
					incoming.addSamples({ clip, part, property: row.path, component }, times, at(k));
				break;
			case 'rotation':
				this.addTurns(clip, part, times, values);
				break;
			case 'colour':
				this.addColour(clip, part, times, values);
				break;
			case 'visible':
				incoming.addChannel({ clip, part, property: 'visible', keys: switchKeys(times, at(0)) });
				break;
			default:
				for (const k of row.value.keys()) {
					const name = row.value.length === 1 ? row.path : `${row.path} ${k + 1}`;
					const component = incoming.number(part, name.replace(/^number /, ''), at(k));
					if (component) incoming.addSamples({ clip, part, property: 'custom', component }, times, at(k));
					else incoming.leftOut.push(`${row.target} ${name}: a part has eight numbers of its own at most`);
				}
		}
	}

	private addTurns(clip: string, part: string, times: number[], values: readonly number[][]): void {
		let previous: Vec3 = [0, 0, 0];
		const turns = values.map((own) => {
			const length = Math.hypot(...own) || 1;
			const euler = toEuler(own.map((v) => v / length) as Quaternion, 'XYZ');
			return (previous = closestEuler(euler, previous, 'XYZ'));
		});
		for (const [k, component] of AXES.entries())
			this.incoming.addSamples(
				{ clip, part, property: 'rotation', component },
				times,
				turns.map((own) => own[k]),
			);
	}

	/** The alpha of a colour is how opaque its part is. */
	private addColour(clip: string, part: string, times: number[], values: readonly number[][]): void {
		const colours = values.map(([r, g, b]): Four => [
			srgbFromLinear(r),
			srgbFromLinear(g),
			srgbFromLinear(b),
			1,
		]);
		if (colours.every((own) => own.every((v, k) => v === colours[0][k])))
			this.incoming.changePart(part, { colour: writeHex(colours[0]) });
		else this.incoming.addColours({ clip, part }, times, colours);
		this.incoming.addSamples(
			{ clip, part, property: 'opacity' },
			times,
			values.map((own) => own[3]),
		);
	}
}

export async function takeSamples({ bytes, name }: FileIn): Promise<Result<TakenIn>> {
	const text = textOf(bytes);
	if (!text.ok) return text;
	const rows = parseJson(text.value);
	if (!rows.ok) return rows;
	if (!Array.isArray(rows.value) || rows.value.length === 0)
		return fail('', 'The file is no list of samples.');
	const columns = columnsOf(rows.value);
	if (!columns.ok) return columns;
	const reader = new SamplesReader(name);
	for (const column of columns.value) reader.add(column);
	return reader.incoming.finishRecorded('No row of the file says that anything moves.');
}

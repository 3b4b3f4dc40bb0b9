/** The numbers of a part as the rows of its card: three components a row, single ones three to a row. */
import { numbersOf } from '$core/document/rest';
import { componentsOf, kindOf, type Component, type Part, type Property } from '$core/document/types';
import { channelLabel, componentLabel } from '$core/document/labels';

export interface PartNumber {
	property: Property;
	component: Component;
	/** What stands before its field. */
	name: string;
	min?: number;
	max?: number;
}
export interface NumberRow {
	head: string;
	numbers: PartNumber[];
}

const IN_A_ROW = 3;
const SHARE = { min: 0, max: 1 };
const LENGTH = { min: 0, max: 1e6 };
const BOUNDS: Partial<Record<Property, { min: number; max: number }>> = {
	opacity: SHARE,
	trim: SHARE,
	size: LENGTH,
	radius: LENGTH,
	stroke: LENGTH,
	fieldOfView: { min: 1, max: 170 },
};

export function rowsOf(part: Part): NumberRow[] {
	const rows: NumberRow[] = [];
	const singles: NumberRow[] = [];
	const push = (to: NumberRow[], head: string, number: PartNumber) => {
		const last = to.at(-1);
		if (last && last.numbers.length < IN_A_ROW && (to === singles || last.head === head))
			last.numbers.push(number);
		else to.push({ head, numbers: [number] });
	};
	for (const { property, component } of numbersOf(part)) {
		if (kindOf(property) !== 'number') continue;
		const single = componentsOf(property).length === 1;
		const label = channelLabel(property, 'value');
		const first = singles.length === 0 || singles.at(-1)!.numbers.length === IN_A_ROW;
		const name = single ? (first ? '' : label) : componentLabel(property, component, part);
		push(single ? singles : rows, label, { property, component, name, ...BOUNDS[property] });
	}
	return [...rows, ...singles];
}

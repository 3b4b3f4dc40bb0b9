/** The numbers of a part as the rows of its card: three components a row, single ones three to a row, those that are called by words two. */
import { numbersOf, ownNumber } from '$core/document/rest';
import { componentsOf, kindOf, type Component, type Part, type Property } from '$core/document/types';
import { componentLabel, propertyLabel } from '$core/document/labels';

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
	/** Whether the row above has the same head. */
	continues: boolean;
	numbers: PartNumber[];
}

const IN_A_ROW = 3;
/** Rows that come last. */
const LATE: ReadonlySet<Property> = new Set(['reveal', 'custom']);
const SHARE = { min: 0, max: 1 };
const LENGTH = { min: 0, max: 1e6 };
const BOUNDS: Partial<Record<Property, { min: number; max: number }>> = {
	opacity: SHARE,
	trim: SHARE,
	reveal: SHARE,
	size: LENGTH,
	radius: LENGTH,
	stroke: LENGTH,
	fieldOfView: { min: 1, max: 170 },
};

/** Properties whose components are called by words have fewer of them in a row. */
const widthOf = (property: Property) => (property === 'reveal' || property === 'custom' ? 2 : IN_A_ROW);

export function rowsOf(part: Part): NumberRow[] {
	const rows: NumberRow[] = [];
	const singles: NumberRow[] = [];
	const push = (to: NumberRow[], number: PartNumber) => {
		const last = to.at(-1);
		const isLike = to === singles || last?.numbers[0].property === number.property;
		if (last && isLike && last.numbers.length < widthOf(number.property)) last.numbers.push(number);
		else
			to.push({ head: propertyLabel(number.property), continues: to === rows && isLike, numbers: [number] });
	};
	for (const { property, component } of numbersOf(part)) {
		if (kindOf(property) !== 'number') continue;
		const single = componentsOf(property).length === 1;
		const label = propertyLabel(property);
		const first = singles.length === 0 || singles.at(-1)!.numbers.length === IN_A_ROW;
		const name = single ? (first ? '' : label) : componentLabel(property, component, part);
		const own = property === 'custom' ? ownNumber(part, component) : undefined;
		const bounds = own ? { min: own.low, max: own.high } : BOUNDS[property];
		push(single ? singles : rows, { property, component, name, ...bounds });
	}
	// What every part has stands before what few use.
	const isLate = ({ numbers }: NumberRow) => LATE.has(numbers[0].property);
	return [...rows.filter((row) => !isLate(row)), ...singles, ...rows.filter(isLate)];
}

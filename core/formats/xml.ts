/** XML as elements in their order. */
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { fail, ok, type Result } from '../result';

export interface Element {
	tag: string;
	attributes: Readonly<Record<string, string>>;
	children: Element[];
	text: string;
}

type Ordered = Record<string, unknown>;
const PARSER = {
	preserveOrder: true,
	ignoreAttributes: false,
	attributeNamePrefix: '',
	parseTagValue: false,
	parseAttributeValue: false,
	removeNSPrefix: true,
	processEntities: true,
} as const;
/** What is deeper is no drawing. */
const DEEPEST = 200;

function elementsOf(nodes: readonly Ordered[], depth = 0): Element[] {
	if (depth > DEEPEST) throw new RangeError(`it is more than ${DEEPEST} elements deep`);
	return nodes.flatMap((node): Element[] => {
		const tag = Object.keys(node).find((own) => own !== ':@' && own !== '#text' && !own.startsWith('?'));
		if (tag === undefined) return [];
		const inside = node[tag] as Ordered[];
		return [
			{
				tag,
				attributes: (node[':@'] ?? {}) as Record<string, string>,
				children: elementsOf(inside, depth + 1),
				text: inside.map((own) => ('#text' in own ? String(own['#text']) : '')).join(''),
			},
		];
	});
}

/** The root of a document of some kind. */
export function readXml(text: string, root: string): Result<Element> {
	const valid = XMLValidator.validate(text);
	if (valid !== true) return fail('', `Line ${valid.err.line}: ${valid.err.msg}`);
	try {
		const found = elementsOf(new XMLParser(PARSER).parse(text) as Ordered[]).find(({ tag }) => tag === root);
		return found ? ok(found) : fail('', `There is no <${root}> in it.`);
	} catch (error) {
		return fail('', `It cannot be read: ${error instanceof Error ? error.message : String(error)}`);
	}
}

/** The numbers of an attribute, however they are set apart. */
export const numbersIn = (text: string): number[] =>
	(text.match(/[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?/gi) ?? []).map(Number);

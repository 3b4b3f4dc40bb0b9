/** How many shapes an SVG file comes to once everything that it uses is put in its place: counted before that is done. */

/** Throws where something uses itself. */
function sizeOf(element: Element, named: ReadonlyMap<string, Element>, known: Map<Element, number>): number {
	const before = known.get(element);
	if (before !== undefined) {
		if (before < 0) throw new Error('Something in it uses itself.');
		return before;
	}
	known.set(element, -1);
	let size = 1;
	for (const child of element.children) size += sizeOf(child, named, known);
	if (element.localName === 'use') {
		const href = element.getAttribute('href') ?? element.getAttribute('xlink:href') ?? '';
		const used = named.get(href.replace(/^#/, ''));
		if (used) size += sizeOf(used, named, known);
	}
	known.set(element, size);
	return size;
}

/** Elements of a drawing with all that it uses. Throws where something uses itself. */
export function expandedSize(text: string): number {
	const root = new DOMParser().parseFromString(text, 'image/svg+xml').documentElement;
	const named = new Map([...root.querySelectorAll('[id]')].map((own) => [own.id, own]));
	return sizeOf(root, named, new Map());
}

/** SVG with SMIL as parts and a clip: groups and shapes as they hang on one another, each with what moves it. */
import type { Part } from '../../document/types';
import type { Result } from '../../result';
import { shortName } from '../../text';
import type { FileIn, TakenIn } from '../format';
import { textOf } from '../head';
import { Incoming } from '../incoming/document';
import { addPageClip, type PageAnimation } from '../web/incoming/animations';
import { colourOf } from '../web/incoming/values';
import { courseOf, framesOf, isAnimation, type Course } from './read-animate';
import { placeOf, type Place } from './read-place';
import { at, GROUPS, labelOf, lookOf, shapeOf, SHAPES, SILENT, type Shape, type Style } from './read-shapes';
import { numbersIn, readXml, type Element } from '../xml';

const isTransform = ({ tag }: Element) => tag === 'animateTransform';
/** Attributes that move a shape within itself. */
const CORNERS = new Set(['x', 'y', 'cx', 'cy', 'width', 'height']);
const STILL: Place = { translation: [0, 0, 0], rotation: [0, 0, 0], scale: [1, 1, 1], isPlainer: false };

/** An animation of a transform takes the place of all of it, unless it is added to it: only what it says itself is at rest. */
function keptTransform(text: string, animations: readonly Element[]): string {
	const replacing = animations.filter((own) => isTransform(own) && own.attributes.additive !== 'sum');
	if (replacing.length === 0) return text;
	const types = replacing.map(({ attributes }) => attributes.type ?? 'translate');
	return (text.match(/[a-zA-Z]+\s*\([^)]*\)/g) ?? [])
		.filter((own) => types.some((type) => own.startsWith(type)))
		.join(' ');
}

class SvgReader {
	private readonly incoming: Incoming;
	private readonly animations: PageAnimation[] = [];
	/** Animations of elements elsewhere, by the ids of these. */
	private readonly aimed = new Map<string, Element[]>();
	private layer = 0;

	constructor(
		private readonly root: Element,
		private readonly name: string,
	) {
		this.incoming = new Incoming(name, 'interface', 60);
	}

	private gatherAimed(element: Element): void {
		for (const child of element.children) {
			const { href } = child.attributes;
			if (isAnimation(child) && href?.startsWith('#'))
				this.aimed.set(href.slice(1), [...(this.aimed.get(href.slice(1)) ?? []), child]);
			this.gatherAimed(child);
		}
	}

	private told(part: string) {
		return (what: string) => void this.incoming.leftOut.push(`${part}: ${what}`);
	}

	/** Groups that do nothing but turn or grow all that is in a named one are that one's own. */
	private absorbed(element: Element): { places: string[]; animations: Element[]; inside: Element[] } {
		const animations = this.animationsOf(element);
		const places = [keptTransform(element.attributes.transform ?? '', animations)];
		let inside = element.children.filter((child) => !isAnimation(child));
		while (inside.length === 1 && inside[0].tag === 'g') {
			const [only] = inside;
			const { transform = '', ...others } = only.attributes;
			const own = this.animationsOf(only);
			const isPlain = Object.keys(others).length === 0 && /^\s*(rotate|scale)\(/.test(transform);
			const clashes = own.some(({ attributes }) =>
				animations.some((known) => known.attributes.type === attributes.type),
			);
			if (!isPlain || clashes) break;
			places.push(keptTransform(transform, own));
			animations.push(...own);
			inside = only.children.filter((child) => !isAnimation(child));
		}
		return { places, animations, inside };
	}

	private animationsOf({ children, attributes: { id } }: Element): Element[] {
		const own = children.filter((child) => isAnimation(child) && !child.attributes.href?.startsWith('#'));
		return [...own, ...(id === undefined ? [] : (this.aimed.get(id) ?? []))];
	}

	private walk(element: Element, parent: string | null, inherited: Style): void {
		const { tag } = element;
		if (SILENT.has(tag) || isAnimation(element)) return;
		const look = lookOf(element);
		const style: Style = {
			fill: look.fill ?? inherited.fill,
			stroke: look.stroke ?? inherited.stroke,
			width: look['stroke-width'] ?? inherited.width,
		};
		if (GROUPS.has(tag)) this.group(element, look, parent, style);
		else if (SHAPES.has(tag) || tag === 'text') this.shape(element, look, parent, style);
		else this.incoming.leftOut.push(`<${tag}>`);
	}

	private restOf(look: Readonly<Record<string, string>>, place: Place) {
		const opacity = Number(look.opacity ?? 1);
		return {
			translation: place.translation,
			rotation: place.rotation,
			scale: place.scale,
			opacity: opacity >= 0 && opacity <= 1 ? opacity : 1,
		};
	}

	private nameOf(element: Element, without: string): string {
		const { 'data-part': part, id } = element.attributes;
		const title = element.children.find(({ tag }) => tag === 'title')?.text.trim();
		return part ?? id ?? (title || without);
	}

	/** A name that no other part has. */
	private unique(name: string): string {
		const names = new Set([...this.incoming.parts.values()].map((part) => part.name));
		for (let n = 1; ; n++) {
			const own = n === 1 ? shortName(name, 110, 'part') : `${shortName(name, 110, 'part')} ${n}`;
			if (!names.has(own)) return own;
		}
	}

	private group(element: Element, look: Record<string, string>, parent: string | null, style: Style): void {
		const { places, animations, inside } = this.absorbed(element);
		const place = placeOf(places.join(' '));
		const isNamed = 'data-part' in element.attributes || 'id' in element.attributes;
		// The picture itself, and groups that only hold things together, are no parts.
		const isIdle =
			!isNamed &&
			animations.length === 0 &&
			places.every((own) => own.trim() === '') &&
			look.opacity === undefined;
		if (element.tag === 'svg' || isIdle) {
			for (const child of inside) this.walk(child, parent, style);
			return;
		}
		const name = this.unique(this.nameOf(element, 'group'));
		// What a named group draws itself is its first shape, where that has nothing of its own.
		const [first, ...rest] = inside;
		const isOwn = first !== undefined && 'data-part' in element.attributes && this.isBare(first);
		const own = isOwn ? this.drawn(first, style) : null;
		const visible = look.visibility !== 'hidden' && look.display !== 'none';
		const part = this.incoming.addPart(name, {
			parent,
			...(own ?? {}),
			rest: this.restOf(look, place),
			visible,
		});
		if (place.isPlainer) this.told(name)('a slant of its transform');
		if (look['clip-path'] || look.mask) this.told(name)('its clipping');
		this.animate(
			part.id,
			[...animations, ...(own ? this.animationsOf(first) : [])],
			own ? first : element,
			look,
		);
		for (const child of own ? rest : inside) this.walk(child, part.id, style);
	}

	/** Whether a shape has neither a name nor a place of its own. */
	private isBare({ tag, attributes }: Element): boolean {
		const isShape = SHAPES.has(tag) || tag === 'text';
		return isShape && !('data-part' in attributes) && !('id' in attributes) && !('transform' in attributes);
	}

	private drawn(element: Element, inherited: Style): Shape | null {
		const look = lookOf(element);
		const style = {
			fill: look.fill ?? inherited.fill,
			stroke: look.stroke ?? inherited.stroke,
			width: look['stroke-width'] ?? inherited.width,
		};
		const layer = this.layer++;
		return element.tag === 'text' ? labelOf(element, style.fill, layer) : shapeOf(element, style, layer);
	}

	private shape(element: Element, look: Record<string, string>, above: string | null, style: Style): void {
		const own = this.drawn(element, style);
		if (!own) return;
		const all = this.animationsOf(element);
		const place = placeOf(keptTransform(look.transform ?? '', all));
		const name = this.unique(this.nameOf(element, element.tag));
		const visible = look.visibility !== 'hidden' && look.display !== 'none';
		if (place.isPlainer) this.told(name)('a slant of its transform');
		const turns = all.filter(isTransform);
		const others = all.filter((animation) => !isTransform(animation));
		const isPlaced = place.rotation[2] !== 0 || place.scale.some((v) => v !== 1) || turns.length > 0;
		if (!isPlaced || !others.some(({ attributes }) => CORNERS.has(attributes.attributeName))) {
			const part = this.incoming.addPart(name, {
				parent: above,
				...own,
				rest: this.restOf(look, place),
				visible,
			});
			this.animate(part.id, all, element, look);
			return;
		}
		// What moves within what is turned hangs on it.
		const holder = this.incoming.addPart(this.unique(`${name} place`), {
			parent: above,
			rest: this.restOf({}, place),
		});
		this.animate(holder.id, turns, element, look);
		// The pivot of the holder may have been put elsewhere.
		const [x, y] = this.incoming.parts
			.get(holder.id)!
			.rest.translation.map((v, k) => place.translation[k] - v);
		const still = this.restOf(look, { ...STILL, translation: [x, y, 0] });
		const part = this.incoming.addPart(name, { parent: holder.id, ...own, rest: still, visible });
		this.animate(part.id, others, element, look);
	}

	/** Puts the pivot of a part elsewhere: what it draws stays where it is. */
	private pivot(id: string, [x, y]: readonly number[]): void {
		const part = this.incoming.parts.get(id)!;
		const { translation } = part.rest;
		const { offset } = part.drawing;
		this.incoming.changePart(id, {
			rest: { ...part.rest, translation: [translation[0] + x, translation[1] + y, translation[2]] },
			drawing: { ...part.drawing, offset: [offset[0] - x, offset[1] - y, offset[2]] },
		});
	}

	private animate(
		id: string,
		elements: readonly Element[],
		element: Element,
		look: Record<string, string>,
	): void {
		const told = this.told(this.incoming.parts.get(id)!.name);
		const courses = elements.flatMap(
			(own) => courseOf(own, look[own.attributes.attributeName ?? ''] ?? '', told) ?? [],
		);
		this.pivotOf(id, courses, element);
		const part = this.incoming.parts.get(id)!;
		for (const course of courses) {
			const frames = framesOf(course, (value) => this.said(course, value, part, element, courses));
			if (frames) this.animations.push({ part: part.name, frames, ...course.timing });
			else told(`its ${course.type || course.attribute} over time`);
		}
	}

	/** Turns about a point: that is the pivot, where all turns have the same one. */
	private pivotOf(id: string, courses: readonly Course[], element: Element): void {
		const turns = courses
			.filter(({ type }) => type === 'rotate')
			.flatMap(({ marks }) => marks.map(({ value }) => numbersIn(value).slice(1)));
		const [centre] = turns;
		if (!centre || centre.length < 2 || (centre[0] === 0 && centre[1] === 0)) return;
		if (turns.some((own) => own[0] !== centre[0] || own[1] !== centre[1]) || element.attributes.transform)
			this.told(this.incoming.parts.get(id)!.name)('the point that it turns about');
		else this.pivot(id, centre);
	}

	/** The declarations of a value of a course; null where a part has nothing like it. */
	private said(
		{ attribute, type, isAdded }: Course,
		value: string,
		{ rest, drawing }: Part,
		{ tag, attributes }: Element,
		courses: readonly Course[],
	): Record<string, string> | null {
		const v = numbersIn(value);
		const [x, y] = isAdded ? [0, 0] : rest.translation;
		const size = 'size' in drawing ? drawing.size : [0, 0, 0];
		// What begins at a corner grows about its middle, which the corner's own animation may keep in place.
		const isMoved = (own: string) => courses.some((course) => course.attribute === own);
		switch (type || attribute) {
			case 'translate':
				return { translate: `${v[0] - x}px ${(v[1] ?? 0) - y}px` };
			case 'rotate':
				return { rotate: `${v[0] + (isAdded ? rest.rotation[2] : 0)}deg` };
			case 'scale':
				return { scale: `${v[0]} ${v[1] ?? v[0]}` };
			case 'opacity':
				return { opacity: value };
			case 'visibility':
			case 'display':
				return { visibility: value === 'hidden' || value === 'none' ? 'hidden' : 'visible' };
			case 'fill':
			case 'stroke':
				return colourOf(value) ? { fill: value } : null;
			case 'cx':
			case 'x':
				if (attribute === 'x' && isMoved('width')) return {};
				if (attribute === 'cx' && isMoved('rx')) return {};
				return { translate: `${v[0] - at(attributes, attribute)}px 0px` };
			case 'cy':
			case 'y':
				if (attribute === 'y' && isMoved('height')) return {};
				if (attribute === 'cy' && isMoved('ry')) return {};
				return { translate: `0px ${v[0] - at(attributes, attribute)}px` };
			case 'width':
			case 'height': {
				const length = attribute === 'width' ? size[0] : size[1];
				const grown = { [attribute]: `${v[0]}px` };
				const corner = attribute === 'width' ? 'x' : 'y';
				if (isMoved(corner)) return grown;
				const shift = (v[0] - length) / 2;
				return { ...grown, translate: attribute === 'width' ? `${shift}px 0px` : `0px ${shift}px` };
			}
			case 'r':
				return { width: `${2 * v[0]}px`, height: `${2 * v[0]}px` };
			case 'rx':
				return tag === 'rect' ? { 'border-radius': `${v[0]}px` } : { width: `${2 * v[0]}px` };
			case 'ry':
				return tag === 'rect' ? {} : { height: `${2 * v[0]}px` };
			default:
				return null;
		}
	}

	read(): Result<TakenIn> {
		this.gatherAimed(this.root);
		this.walk(this.root, null, { fill: '#000000', stroke: 'none', width: '1' });
		const byName = new Map([...this.incoming.parts.values()].map((part) => [part.name, part.id]));
		addPageClip(this.incoming, this.name, this.animations, (name) =>
			this.incoming.parts.get(byName.get(name)!)!,
		);
		return this.incoming.finish(
			'Nothing in this picture moves by itself: take it as a picture, or as shapes.',
		);
	}
}

export async function takeSvg({ bytes, name }: FileIn): Promise<Result<TakenIn>> {
	const text = textOf(bytes);
	if (!text.ok) return text;
	const root = readXml(text.value, 'svg');
	return root.ok ? new SvgReader(root.value, name).read() : root;
}

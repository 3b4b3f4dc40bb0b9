/** A page of elements, nested as the parts are: the binding for pages shows poses on them. */
import { bindToElements } from '../bind/dom';
import { fromEuler } from '../maths/quaternion';
import type { ReadClips } from '../file/read';
import { cardPath } from './card-path';
import type { Face, Look, PageData } from './looks';
import { find, run, type Stage } from './page';

const SVG = 'http://www.w3.org/2000/svg';
const NOWHERE: [number, number, number, number] = [0, 0, 0, 0];
/** Of a label's box, what its letters are high. */
const LETTERS = 0.72;
const MARGIN = 24;

function svg(name: string, attributes: Record<string, string | number>): SVGElement {
	const own = document.createElementNS(SVG, name);
	for (const [key, value] of Object.entries(attributes)) own.setAttribute(key, String(value));
	return own;
}

/** The outline of what has a line or is none of a box. */
function outline(face: Face): SVGElement {
	const [x, y, width, height] = face.box;
	const [rx, ry] = [width / 2, height / 2];
	const drawn = svg('svg', {
		viewBox: `${x - rx} ${y - ry} ${width || 1} ${height || 1}`,
		preserveAspectRatio: 'none',
	});
	const shape = face.isRound
		? svg('ellipse', { cx: x, cy: y, rx, ry })
		: svg('path', { d: face.d ?? cardPath(rx, ry, face.radius ?? 0, face.box), 'fill-rule': 'evenodd' });
	shape.setAttribute('fill', face.hollow ? 'none' : 'currentColor');
	if (face.line) {
		shape.setAttribute('stroke', face.hollow ? 'currentColor' : face.line.colour);
		shape.setAttribute('stroke-width', String(face.line.width));
		shape.setAttribute('pathLength', '1');
	}
	drawn.append(shape);
	return drawn;
}

function letters({ box: [, , width, height], text = '', align = 'center' }: Face): HTMLElement {
	const own = document.createElement('span');
	own.textContent = text;
	const size = LETTERS * height;
	Object.assign(own.style, {
		font: `600 ${size}px/${height}px Overpass, system-ui, sans-serif`,
		textAlign: align,
	});
	const brush = document.createElement('canvas').getContext('2d')!;
	brush.font = own.style.font;
	const needed = brush.measureText(text).width / (0.96 * width);
	if (needed > 1) own.style.fontSize = `${size / needed}px`;
	return own;
}

function inside(face: Face): Element {
	if (face.text !== undefined) return letters(face);
	if (face.d !== undefined || face.line) return outline(face);
	const own = document.createElement('i');
	own.style.background = 'currentColor';
	return own;
}

/** The element of a part: it stands with its corner on its pivot, and what is in it is moved to where it belongs. */
function element(set: ReadClips, looks: readonly Look[], index: number): HTMLElement {
	const { name, parent = -1, rest = {}, order = 'XYZ' } = set.parts[index];
	const { colour, opacity = 1, hidden, face } = looks[index];
	const [x, y, width, height] = face?.box ?? NOWHERE;
	const [px, py] = looks[parent]?.face?.box ?? NOWHERE;
	const [dx, dy] = rest.translation ?? [0, 0];
	const [qx, qy, qz, qw] = fromEuler(rest.rotation ?? [0, 0, 0], order);
	const sine = Math.hypot(qx, qy, qz);
	const own = document.createElement('div');
	own.dataset.part = name;
	Object.assign(own.style, {
		left: `calc(50% + ${dx - px}px)`,
		top: `calc(50% + ${dy - py}px)`,
		width: `${width}px`,
		height: `${height}px`,
		transform: `translate(calc(${x}px - 50%), calc(${y}px - 50%))`,
		rotate: sine > 0 ? `${qx} ${qy} ${qz} ${2 * Math.atan2(sine, qw)}rad` : '',
		scale: (rest.scale ?? [1, 1, 1]).join(' '),
		opacity,
		color: colour,
		borderRadius: face?.isRound ? '50%' : `${face?.radius ?? 0}px`,
		visibility: hidden ? 'hidden' : '',
	});
	if (face?.reveal) own.style.clipPath = `inset(${face.reveal.map((share) => `${100 * share}%`).join(' ')})`;
	if (face?.line) {
		const [start, end] = face.line.trim;
		own.style.strokeDasharray = `${end - start} 2`;
		own.style.strokeDashoffset = String(-start);
	}
	if (face) own.append(inside(face));
	return own;
}

function makeStage(set: ReadClips, { looks }: PageData): Stage {
	const place = find('stage');
	const root = document.createElement('div');
	root.dataset.root = '';
	const own = set.parts.map((_, i) => element(set, looks, i));
	own.forEach((part, i) => (own[set.parts[i].parent ?? -1] ?? root).append(part));
	place.append(root);
	const fit = () => {
		root.style.scale = '1';
		root.style.translate = '0px 0px';
		const seen = [...root.querySelectorAll('i, svg, span')].map((face) => face.getBoundingClientRect());
		const at = place.getBoundingClientRect();
		const [left, top] = [Math.min(...seen.map((box) => box.left)), Math.min(...seen.map((box) => box.top))];
		const right = Math.max(...seen.map((box) => box.right));
		const bottom = Math.max(...seen.map((box) => box.bottom));
		const scale = Math.min(
			(at.width - 2 * MARGIN) / (right - left || 1),
			(at.height - 2 * MARGIN) / (bottom - top || 1),
		);
		const x = at.width / 2 - scale * ((left + right) / 2 - at.left);
		const y = at.height / 2 - scale * ((top + bottom) / 2 - at.top);
		root.style.scale = String(scale);
		root.style.translate = `${x}px ${y}px`;
	};
	fit();
	addEventListener('resize', fit);
	return {
		show: bindToElements(set, root, { colour: 'color' }),
		partAt: ({ target }) => (target as Element).closest<HTMLElement>('[data-part]')?.dataset.part,
	};
}

run(makeStage);

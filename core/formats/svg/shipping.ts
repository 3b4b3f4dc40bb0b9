/** SVG with SMIL as a way for a clip to leave. */
import { NO_ORIGIN_ERRORS } from '../../tracks/origin-errors';
import { strToU8 } from 'fflate';
import { partTree } from '../../clip/compile';
import { restBox } from '../../drawing/rest-box';
import type { Clip, Doc, Part } from '../../document/types';
import type { LeftOut } from '../../tracks/report';
import type { Shipped, Shipper, ShipOptions } from '../../tracks/ship';
import { writeKeyframes, type WrittenClips, type WrittenStrip } from '../web/prepare';
import { isSaid } from './animate';
import { PartDrawer } from './draw';

const comment = (text: string) => text.replaceAll('--', '- -');

/** Why a strip cannot be written; null where it can. */
function whyNot({ strip, frames }: WrittenStrip): string | null {
	const { name, source, path, part } = strip;
	if (name === 'rotate' && source.size > 1) return 'SVG turns about one axis: this turns in space';
	if (path === 'colour' && frames.some(({ values }) => values[3] !== frames[0].values[3]))
		return 'its colour fades, which SVG mixes otherwise: let its opacity fade';
	const { drawing } = part;
	const isTrimmed =
		'stroke' in drawing && drawing.stroke && (drawing.stroke.start > 0 || drawing.stroke.end < 1);
	if (path === 'size' && (drawing.kind === 'label' || isTrimmed))
		return 'SVG has sizes for rectangles and ellipses, and of these not where their line is drawn in part';
	if (path === 'radius' && isTrimmed) return 'SVG has no radius for what is drawn in part';
	return null;
}

/** What of the strips is written; the others are told, and no longer reported. */
function sayable({ clips: [clip], reports }: WrittenClips): WrittenStrip[] {
	const [report] = reports;
	const told: LeftOut[] = [];
	const kept = clip.strips.filter((own) => {
		const why = whyNot(own);
		if (why === null) return true;
		const { part, path, name } = own.strip;
		told.push({ part: part.name, what: path, why });
		report.tracks = report.tracks.filter(({ id }) => id !== `${clip.clip.id}/${part.id}/${path}/${name}`);
		return false;
	});
	report.leftOut.push(...told);
	return [...kept];
}

/** What the file draws plainer than the project, in words. */
function plainerIn(parts: readonly Part[]): string[] {
	return parts.flatMap(({ name, drawing, rest }) => {
		const [x, y] = rest.rotation;
		return [
			...(drawing.kind === 'image' ? [`${name}: its picture is a plain card`] : []),
			...(['model', 'box', 'cylinder', 'cone'].includes(drawing.kind)
				? [`${name}: its ${drawing.kind} is a flat card`]
				: []),
			...(x !== 0 || y !== 0 ? [`${name}: it is turned in space, here flat`] : []),
		];
	});
}

const MARGIN = 8;

/** What is in the picture: the project's screen, else all parts as they rest. */
function viewOf(doc: Doc, parts: readonly Part[]): [x: number, y: number, width: number, height: number] {
	const { screen } = doc.project;
	if (screen) return [0, 0, screen.width, screen.height];
	const box = restBox(parts, 'interface');
	if (!box) return [-160, -100, 320, 200];
	const [x, y] = [box.low[0] - MARGIN, box.low[1] - MARGIN];
	const [width, height] = [box.high[0] + MARGIN - x, box.high[1] + MARGIN - y];
	return [x, y, width, height].map((v) => Number(v.toFixed(2))) as never;
}

/** Throws a RangeError for several clips, for worlds, and where a bound cannot be kept. */
function ship(doc: Doc, clips: readonly Clip[], options: ShipOptions): Shipped {
	if (clips.length !== 1) throw new RangeError('an SVG plays one clip: choose one');
	const written = writeKeyframes(doc, clips, options, 'SVG', isSaid);
	const { parts } = partTree(doc);
	const drawer = new PartDrawer(clips[0], sayable(written), written.partNames);
	const below = (parent: string | null): string =>
		parts
			.filter((part) => part.parent === parent)
			.map((part) => drawer.part(part, below(part.id)))
			.join('');
	const view = viewOf(doc, parts);
	const text = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${view.join(' ')}" width="${view[2]}" height="${view[3]}">
<!-- Written by Hillock: “${comment(clips[0].name)}” of “${comment(doc.project.name)}”. Change it there. -->
${below(null)}</svg>
`;
	return { bytes: strToU8(text), clips: written.reports, plainer: plainerIn(parts), ...NO_ORIGIN_ERRORS };
}

export const svgShipper: Shipper = {
	ship: async (doc, clips, options) => ship(doc, clips, options),
};

/** Style sheets and Web Animations as this browser plays them, on elements that nobody sees. */
import { strFromU8 } from 'fflate';
import { partTree, type CompiledClip } from '$core/clip/compile';
import type { Doc, Part } from '$core/document/types';
import { classesOf } from '$core/formats/css/write';
import { uniqueNames } from '$core/tracks/ship';
import type { Target } from '$player/layout';
import type { ReadClip, ReadFile } from './reader';

const numbers = (text: string) => (text.match(/-?[\d.]+(e-?\d+)?/g) ?? []).map(Number);

/** `20deg`, `x 20deg`, `0.1 0.2 0.3 20deg` or `none` as a quaternion. Source: CSS Transforms 2, 5. */
function turnOf(text: string): number[] {
	const found = numbers(text);
	const half = ((found.at(-1) ?? 0) * Math.PI) / 360;
	const axis =
		found.length === 4 ? found.slice(0, 3) : ['x', 'y', 'z'].map((own) => Number(text.startsWith(own)));
	if (found.length === 1 && !/^[xyz]/.test(text)) axis[2] = 1;
	const length = Math.hypot(...axis) || 1;
	return [...axis.map((v) => (v / length) * Math.sin(half)), Math.cos(half)];
}

function colourOf(text: string): number[] {
	const [r = 0, g = 0, b = 0, alpha = 1] = numbers(text);
	return [r / 255, g / 255, b / 255, alpha];
}

/** What a computed style says of a target of a part; null where it says nothing. */
function valuesOf(style: CSSStyleDeclaration, { path }: Target, { rest, drawing }: Part): number[] | null {
	switch (path) {
		case 'translation': {
			const [x = 0, y = 0, z = 0] = numbers(style.translate);
			return [x, y, z].map((v, k) => v + rest.translation[k]);
		}
		case 'rotation':
			return style.rotate === 'none' ? null : turnOf(style.rotate);
		case 'scale': {
			if (style.scale === 'none') return null;
			const [x, y = x, z = rest.scale[2]] = numbers(style.scale);
			return [x, y, z];
		}
		case 'opacity':
			return [Number(style.opacity)];
		case 'visible':
			return [style.visibility === 'visible' ? 1 : 0];
		case 'colour':
			return colourOf(
				drawing.kind === 'label' ? style.color : drawing.kind === 'path' ? style.fill : style.backgroundColor,
			);
		case 'size':
			return [parseFloat(style.width), parseFloat(style.height)];
		case 'radius':
			return [parseFloat(style.borderTopLeftRadius)];
		case 'reveal': {
			const [top = 0, right = top, bottom = top, left = right] = numbers(style.clipPath);
			return [top, right, bottom, left].map((v) => v / 100);
		}
		case 'trim': {
			const start = -parseFloat(style.strokeDashoffset);
			return [start, start + numbers(style.strokeDasharray)[0]];
		}
		default:
			return null;
	}
}

/** Elements of a project's parts in a page of their own, which nobody sees and nothing else styles. */
class HiddenPage {
	readonly root = document.createElement('div');
	readonly elements = new Map<string, HTMLElement>();
	private readonly host = document.createElement('div');

	constructor(doc: Doc, sheets: CSSStyleSheet[] = []) {
		const { host, root, elements } = this;
		host.setAttribute('aria-hidden', 'true');
		host.style.cssText =
			'position: fixed; left: -99999px; top: 0; width: 1px; height: 1px; overflow: hidden; contain: strict';
		const shadow = host.attachShadow({ mode: 'open' });
		shadow.adoptedStyleSheets = sheets;
		const { parts } = partTree(doc);
		const names = uniqueNames(parts);
		for (const { id, drawing, rest } of parts) {
			const element = document.createElement('div');
			element.dataset.part = names.get(id)!;
			const [width, height] = 'size' in drawing ? drawing.size : [1, 1];
			element.style.cssText = `position: absolute; box-sizing: border-box; width: ${width}px; height: ${height}px; opacity: ${rest.opacity}`;
			elements.set(id, element);
			root.append(element);
		}
		shadow.append(root);
		document.body.append(host);
	}

	/** A clip whose animations are set going when it is read. */
	clipOf({ layout, parts, indexOfPart }: CompiledClip, start: () => void): ReadClip {
		const { root, elements } = this;
		const wake = () => {
			if (root.dataset.playing === layoutId) return;
			for (const animation of root.getAnimations({ subtree: true })) animation.cancel();
			start();
			root.dataset.playing = layoutId;
			for (const animation of root.getAnimations({ subtree: true })) animation.pause();
		};
		const layoutId = String(HiddenPage.count++);
		return {
			read(seconds, pose) {
				wake();
				for (const animation of root.getAnimations({ subtree: true })) animation.currentTime = seconds * 1000;
				for (const target of layout.targets) {
					const element = elements.get(target.part);
					const part = parts[indexOfPart.get(target.part)!];
					const values = element && valuesOf(getComputedStyle(element), target, part);
					values?.slice(0, target.size).forEach((v, k) => (pose[target.at + k] = v));
				}
			},
			keysOf(part, path) {
				wake();
				const own = elements.get(part)?.getAnimations() ?? [];
				const wanted = ATTRIBUTES[path] ?? path;
				const effects = own.flatMap(({ effect }) => (effect instanceof KeyframeEffect ? [effect] : []));
				const found = effects.find((effect) => effect.getKeyframes().some((frame) => wanted in frame));
				const { duration, delay } = found?.getComputedTiming() ?? {};
				const offsets = found?.getKeyframes().map(({ computedOffset }) => computedOffset) ?? [];
				return offsets.map((at) => (at * Number(duration) + (delay ?? 0)) / 1000);
			},
		};
	}
	private static count = 0;

	close(): void {
		this.host.remove();
	}
}

/** Paths whose properties scripts call otherwise. */
const ATTRIBUTES: Readonly<Record<string, string>> = {
	translation: 'translate',
	rotation: 'rotate',
	visible: 'visibility',
	colour: 'backgroundColor',
	size: 'width',
	radius: 'borderTopLeftRadius',
	reveal: 'clipPath',
	trim: 'strokeDashoffset',
};

export async function openSheet(
	file: ArrayBuffer,
	doc: Doc,
	clips: readonly CompiledClip[],
): Promise<ReadFile> {
	const sheet = await new CSSStyleSheet().replace(strFromU8(new Uint8Array(file)));
	// Who wants less motion is here to see all of it.
	for (let i = sheet.cssRules.length - 1; i >= 0; i--)
		if (sheet.cssRules[i] instanceof CSSMediaRule) sheet.deleteRule(i);
	const page = new HiddenPage(doc, [sheet]);
	const classes = classesOf(clips.map(({ clip }) => clip));
	return {
		readBy: 'this browser',
		clipOf: (compiled) => page.clipOf(compiled, () => (page.root.className = classes.get(compiled.clip.id)!)),
		close: () => page.close(),
	};
}

interface AnimationsFile {
	clips: Record<string, { timing: KeyframeAnimationOptions; parts: Record<string, Keyframe[][]> }>;
}

export function openAnimations(
	file: ArrayBuffer,
	doc: Doc,
	clips: readonly CompiledClip[],
): Promise<ReadFile> {
	const read = JSON.parse(strFromU8(new Uint8Array(file))) as AnimationsFile;
	const page = new HiddenPage(doc);
	const names = uniqueNames(clips.map(({ clip }) => clip));
	return Promise.resolve({
		readBy: 'this browser',
		clipOf(compiled) {
			const { timing, parts } = read.clips[names.get(compiled.clip.id)!];
			return page.clipOf(compiled, () => {
				for (const element of page.elements.values())
					for (const keyframes of parts[element.dataset.part!] ?? []) element.animate(keyframes, timing);
			});
		},
		close: () => page.close(),
	});
}

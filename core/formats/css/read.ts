/**
 * Style sheets as clips: `@keyframes` with the rules that play them, and transitions between what a rule says and what it
 * says in another state. Source: CSS Animations 1, CSS Transitions 1.
 */
import * as tree from 'css-tree/dist/csstree.esm';
import type { Part } from '../../document/types';
import type { Result } from '../../result';
import { fail } from '../../result';
import type { FileIn, TakenIn } from '../format';
import { textOf } from '../head';
import { Incoming } from '../incoming/document';
import { addPageClip, type PageAnimation, type PageFrame } from '../web/incoming/animations';
import { elementLook } from '../web/incoming/look';
import { colourOf, lengthOf } from '../web/incoming/values';
import { animationsIn, transitionsIn, type Timed } from './shorthands';

type Declared = Record<string, string>;

/** A selector by what it says: of which element, in which state. */
interface Selected {
	/** What the element is called; the same in all its states. */
	part: string;
	/** The class of what it stands in, of sheets that move named parts. */
	scope: string | null;
	/** What it is beside itself; empty as it rests. */
	state: string;
}

interface Rule extends Selected {
	declared: Declared;
	/** What is said of part and state, for the name of a clip. */
	text: string;
}

const unescaped = (text: string) => text.replace(/\\(.)/g, '$1');

/** The last compound of a selector names the element, classes and pseudo-classes beside its name are its state. */
function selectedBy(selector: tree.CssNode): Selected | null {
	const compounds: tree.CssNode[][] = [[]];
	if (selector.type !== 'Selector') return null;
	selector.children.forEach((node) => {
		if (node.type === 'Combinator') compounds.push([]);
		else compounds.at(-1)!.push(node);
	});
	const own = compounds.at(-1)!;
	const attribute = own.find((node) => node.type === 'AttributeSelector' && node.name.name === 'data-part');
	const classes = compounds[0].flatMap((node) =>
		node.type === 'ClassSelector' ? [unescaped(node.name)] : [],
	);
	if (attribute?.type === 'AttributeSelector' && attribute.value) {
		const { value } = attribute;
		const part = value.type === 'String' ? value.value : value.name;
		return { part, scope: compounds.length > 1 ? (classes[0] ?? null) : null, state: '' };
	}
	const called = own.find(({ type }) => ['IdSelector', 'ClassSelector', 'TypeSelector'].includes(type));
	if (!called || !('name' in called) || typeof called.name !== 'string') return null;
	const others = [...compounds.slice(0, -1).flat(), ...own.filter((node) => node !== called)];
	return {
		part: unescaped(called.name),
		scope: null,
		state: others.map((node) => tree.generate(node)).join(''),
	};
}

function declaredIn(block: tree.Block): Declared {
	const declared: Declared = {};
	block.children.forEach((node) => {
		if (node.type === 'Declaration') declared[node.property.toLowerCase()] = tree.generate(node.value).trim();
	});
	return declared;
}

const LEFT_MEDIA = /prefers-reduced-motion:\s*reduce|print/;

class Sheet {
	readonly rules: Rule[] = [];
	readonly keyframes = new Map<string, PageFrame[]>();
	private readonly variables = new Map<string, string>();

	constructor(text: string) {
		const ast = tree.parse(text, { parseCustomProperty: false });
		this.gather(ast as tree.StyleSheet);
	}

	private gather({ children }: { children: tree.List<tree.CssNode> }): void {
		children.forEach((node) => {
			if (node.type === 'Rule') this.rule(node);
			else if (node.type === 'Atrule') this.atrule(node);
		});
	}

	private atrule({ name, prelude, block }: tree.Atrule): void {
		if (!block) return;
		const said = prelude ? tree.generate(prelude) : '';
		if (/^(-\w+-)?keyframes$/.test(name))
			this.keyframes.set(said.replace(/^["']|["']$/g, ''), this.frames(block));
		// Those who want less motion, and paper, are not asked.
		else if (['media', 'supports', 'layer'].includes(name) && !LEFT_MEDIA.test(said)) this.gather(block);
	}

	private rule({ prelude, block }: tree.Rule): void {
		const declared = declaredIn(block);
		for (const [name, value] of Object.entries(declared))
			if (name.startsWith('--')) this.variables.set(name, value);
		if (prelude.type !== 'SelectorList') return;
		const selectors = prelude.children.toArray();
		const selected = selectors.map((own) => ({ own, said: selectedBy(own) }));
		// Of a rule for a named part, other selectors are the same for elements by themselves.
		const scoped = selected.filter(({ said }) => said?.scope);
		for (const { own, said } of scoped.length > 0 ? scoped : selected)
			if (said) this.rules.push({ ...said, declared, text: tree.generate(own) });
	}

	private frames(block: tree.Block): PageFrame[] {
		const frames: PageFrame[] = [];
		block.children.forEach((node) => {
			if (node.type !== 'Rule' || node.prelude.type !== 'SelectorList') return;
			const { 'animation-timing-function': easing, ...declared } = declaredIn(node.block);
			node.prelude.children.forEach((selector) => {
				const at = tree.generate(selector);
				const share = at === 'from' ? 0 : at === 'to' ? 1 : Number(at.replace('%', '')) / 100;
				if (!(share >= 0 && share <= 1)) return;
				// Two blocks for one place are one.
				const known = frames.findIndex((frame) => frame.at === share);
				if (known < 0) frames.push({ at: share, easing: easing ?? '', declared });
				else
					frames[known] = {
						at: share,
						easing: easing ?? frames[known].easing,
						declared: { ...frames[known].declared, ...declared },
					};
			});
		});
		return frames;
	}

	/** A value with its variables in it: their fallbacks where nothing sets them. */
	private filled(value: string, depth = 0): string {
		const next = value.replace(
			/var\(\s*(--[\w-]+)\s*(?:,\s*([^()]*(?:\([^()]*\)[^()]*)*))?\)/g,
			(_, name, without = '') => this.variables.get(name as string) ?? (without as string),
		);
		return next === value || depth > 8 ? next : this.filled(next, depth + 1);
	}

	/** Declarations as they count, with variables filled in. */
	of(rule: Rule): Declared {
		return Object.fromEntries(
			Object.entries(rule.declared).map(([name, value]) => [name, this.filled(value)]),
		);
	}
}

class CssReader {
	private readonly incoming: Incoming;
	private readonly sheet: Sheet;
	private readonly played = new Set<string>();

	constructor(text: string, name: string) {
		this.incoming = new Incoming(name, 'interface', 60);
		this.sheet = new Sheet(text);
	}

	/** What an element is as it rests, of the rules that say nothing of a state. */
	private resting(part: string): Declared {
		const own = this.sheet.rules.filter((rule) => rule.part === part && rule.state === '' && !rule.scope);
		return Object.assign({}, ...own.map((rule) => this.sheet.of(rule))) as Declared;
	}

	private readonly partOf = (name: string): Part =>
		this.incoming.part(name, () => {
			const look = elementLook(this.incoming.parts.size);
			const own = this.resting(name);
			const [width, height] = [lengthOf(own.width ?? ''), lengthOf(own.height ?? '')];
			const colour = colourOf(own['background-color'] ?? own.background ?? own.color ?? '');
			const hex = colour?.slice(0, 3).map((v) =>
				Math.round(255 * v)
					.toString(16)
					.padStart(2, '0'),
			);
			const opacity = Number(own.opacity ?? 1);
			const radius = lengthOf(own['border-radius'] ?? '') ?? 8;
			return {
				...look,
				drawing: { kind: 'card', size: [width ?? 120, height ?? 72, 0], radius, offset: [0, 0, 0] },
				colour: hex ? `#${hex.join('')}` : look.colour,
				rest: { ...look.rest, opacity: opacity >= 0 && opacity <= 1 ? opacity : 1 },
			};
		});

	/** Clips of rules that play keyframes: by the class that a named part stands in, else by the keyframes. */
	private keyframed(): Map<string, PageAnimation[]> {
		const clips = new Map<string, PageAnimation[]>();
		for (const rule of this.sheet.rules) {
			const timed = animationsIn(this.sheet.of(rule)).filter(({ name }) => this.sheet.keyframes.has(name));
			for (const own of timed) {
				this.played.add(own.name);
				const clip = rule.scope ?? timed[0].name;
				const frames = this.sheet.keyframes
					.get(own.name)!
					.map((frame) => ({ ...frame, easing: frame.easing || own.easing }));
				clips.set(clip, [...(clips.get(clip) ?? []), { part: rule.part, frames, ...playing(own) }]);
			}
		}
		for (const [name, frames] of this.sheet.keyframes) {
			if (this.played.has(name)) continue;
			this.incoming.leftOut.push(`${name}: no rule plays it: it lasts a second here`);
			const own = frames.map((frame) => ({ ...frame, easing: frame.easing || 'ease' }));
			const still = { duration: 1, delay: 0, iterations: 1, direction: 'normal' as const };
			clips.set(name, [{ part: name, frames: own, ...still }]);
		}
		return clips;
	}

	/** Clips of transitions: from what an element is as it rests to what it is in a state. */
	private transitions(): Map<string, PageAnimation[]> {
		const clips = new Map<string, PageAnimation[]>();
		for (const rule of this.sheet.rules.filter(({ state }) => state !== '')) {
			const resting = this.resting(rule.part);
			const changed = this.sheet.of(rule);
			const timed = transitionsIn({ ...resting, ...changed });
			const animations = Object.entries(changed).flatMap(([property, to]): PageAnimation[] => {
				const own = timed.find(({ name }) => name === property) ?? timed.find(({ name }) => name === 'all');
				const from = resting[property] ?? INITIAL[property];
				if (!own || from === undefined || from === to || own.duration <= 0) return [];
				const frames = [from, to].map((value, i) => ({
					at: i,
					easing: own.easing,
					declared: { [property]: value },
				}));
				return [{ part: rule.part, frames, ...playing(own) }];
			});
			if (animations.length > 0) clips.set(rule.text, animations);
		}
		return clips;
	}

	read(): Result<TakenIn> {
		for (const clips of [this.keyframed(), this.transitions()])
			for (const [clip, animations] of clips) addPageClip(this.incoming, clip, animations, this.partOf);
		return this.incoming.finish(
			'Nothing moves in this style sheet: it has no keyframes, and no transition to another state.',
		);
	}
}

/** What properties are where nothing is said. */
const INITIAL: Declared = {
	opacity: '1',
	translate: 'none',
	rotate: 'none',
	scale: 'none',
	transform: 'none',
	visibility: 'visible',
	'clip-path': 'inset(0)',
};

const playing = ({ name: _, ...timed }: Timed) => timed;

export async function takeCss({ bytes, name }: FileIn): Promise<Result<TakenIn>> {
	const text = textOf(bytes);
	if (!text.ok) return text;
	try {
		return new CssReader(text.value, name).read();
	} catch (error) {
		return fail(
			'',
			`This is no style sheet that can be read: ${error instanceof Error ? error.message : String(error)}`,
		);
	}
}

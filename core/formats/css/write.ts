/** A style sheet of keyframes: a class for each clip, which moves the parts below it. */
import { ticksToSeconds } from '../../../player/time';
import type { Clip } from '../../document/types';
import { uniqueNames } from '../../tracks/ship';
import { identifier } from './identifier';
import { framesOfRound, roundOf } from '../web/round';
import { declared } from '../web/strips';
import type { WrittenClip, WrittenStrip } from '../web/prepare';

/** Names of classes: two names may come to one, and then have numbers, joined by hyphens as the rest is. */
export function classesOf(clips: readonly Clip[]): Map<string, string> {
	const classes = uniqueNames(clips.map(({ id, name }) => ({ id, name: identifier(name) })));
	return new Map([...classes].map(([id, own]) => [id, own.replaceAll(' ', '-')]));
}

const seconds = (ticks: number) => `${Number(ticksToSeconds(ticks).toFixed(6))}s`;
/** A name as a text of CSS. */
const quoted = (name: string) => `"${name.replace(/["\\]/g, '\\$&').replace(/\n/g, '\\a ')}"`;
const comment = (text: string) => text.replaceAll('*/', '* /').replace(/\s+/g, ' ');

const place = (share: number) => `${Number((100 * share).toFixed(12))}%`;

function keyframes(name: string, { strip, frames }: WrittenStrip, clip: Clip): string {
	const own = framesOfRound(frames, clip);
	const lines = own.map(({ at, values, easing }, i) => {
		const timing =
			i === own.length - 1 || easing === 'linear' ? '' : `; animation-timing-function: ${easing}`;
		return `\t${place(at)} { ${declared(strip.declare(values))}${timing} }`;
	});
	return `@keyframes ${name} {\n${lines.join('\n')}\n}\n`;
}

/** The rule of a part in a clip, with its keyframes. */
function partRules(own: WrittenClip, strips: readonly WrittenStrip[], name: string, part: string): string {
	const { clip } = own;
	const { mode, count } = clip.loop;
	const { before, all } = roundOf(clip);
	const ident = identifier(part);
	const names = strips.map(({ strip }) => `${name}--${ident}--${strip.name}`);
	const rounds = mode === 'once' ? '1' : (count ?? 'infinite');
	const delay = `var(--${name}-delay, 0s)`;
	const rule = [
		`.${name} [data-part=${quoted(part)}], .${name}--${ident} {`,
		`\tanimation-name: ${names.join(', ')};`,
		`\tanimation-duration: var(--${name}-duration, ${seconds(all)});`,
		`\tanimation-delay: ${before > 0 ? `calc(${delay} - ${seconds(before)})` : delay};`,
		`\tanimation-iteration-count: ${rounds};`,
		...(mode === 'alternate' ? ['\tanimation-direction: alternate;'] : []),
		'\tanimation-timing-function: linear;',
		'\tanimation-fill-mode: both;',
		'}',
	].join('\n');
	return `${rule}\n${strips.map((strip, i) => keyframes(names[i], strip, clip)).join('')}`;
}

/** Those who want less motion see where a clip ends; what goes on for ever stands still. */
function calmRules(name: string, { clip }: WrittenClip): string {
	const { mode, count } = clip.loop;
	const selector = `.${name} [data-part], [class*="${name}--"]`;
	const goesOn = mode !== 'once' && count === null;
	const declaration = goesOn
		? 'animation: none'
		: 'animation-duration: 1ms; animation-delay: 0s; animation-iteration-count: 1';
	return `\t${selector} { ${declaration} }\n`;
}

/** The sheet. `classes` are unique names of the clips; `partNames` those of the parts. */
export function writeSheet(
	project: string,
	clips: readonly WrittenClip[],
	partNames: ReadonlyMap<string, string>,
	classes: ReadonlyMap<string, string>,
): string {
	const first = clips[0];
	const part = first.strips[0] ? partNames.get(first.strips[0].strip.part.id)! : 'NAME';
	const example = classes.get(first.clip.id)!;
	const head = `/* Clips of “${comment(project)}”. Written by Hillock: change them there.
   <div class="${example}"> <div data-part="${comment(part)}">…</div> </div>
   plays “${comment(first.name)}” when the class is set; .${example}--${identifier(part)} is for an element by itself.
   Elements stand where the page places them at rest: translate moves them from there, they turn and grow about their
   transform-origin. --${example}-duration and --${example}-delay change the time. */
`;
	const rules = clips.map((own) => {
		const name = classes.get(own.clip.id)!;
		const parts = [...new Set(own.strips.map(({ strip }) => strip.part.id))];
		return parts
			.map((id) =>
				partRules(
					own,
					own.strips.filter(({ strip }) => strip.part.id === id),
					name,
					partNames.get(id)!,
				),
			)
			.join('');
	});
	const calm = clips.map((own) => calmRules(classes.get(own.clip.id)!, own)).join('');
	return `${head}${rules.join('')}@media (prefers-reduced-motion: reduce) {\n${calm}}\n`;
}

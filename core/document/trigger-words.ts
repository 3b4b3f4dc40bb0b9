/** Triggers as sentences. */
import type { Deed, Moment } from '../../player/triggers';
import type { Trigger, TriggerDeed, TriggerMoment } from './triggers';
import type { Doc } from './types';

/** What things are called, by what a trigger names them by. */
export interface TriggerNames {
	part: (id: string) => string;
	clip: (id: string) => string;
	layer: (id: string) => string;
}

export function namesIn(doc: Doc): TriggerNames {
	const from = (map: Readonly<Record<string, { name: string }>>) => (id: string) => map[id]?.name ?? id;
	return { part: from(doc.parts), clip: from({ ...doc.mixes, ...doc.clips }), layer: from(doc.layers) };
}

const same = (name: string) => name;
/** Of a clip file, whose triggers go by names. */
export const OWN_NAMES: TriggerNames = { part: same, clip: same, layer: same };

const quoted = (name: string) => `“${name}”`;
const seconds = (value: number) => `${Number(value.toPrecision(4))} s`;

/** A key as a person calls it. */
export function keyWord(key: string): string {
	return key
		.replace(/^Arrow/, '')
		.replace(/^(Left|Right|Up|Down)$/, 'arrow $1')
		.toLowerCase();
}

/** Such as “pelican is tapped”. */
export function tellMoment({ part, clip }: TriggerNames, when: TriggerMoment | Moment): string {
	switch (when.kind) {
		case 'start':
			return 'it starts';
		case 'call':
			return `code calls ${quoted(when.name)}`;
		case 'tap':
			return `${part(when.part)} is tapped`;
		case 'enter':
			return `${part(when.part)} is pointed at`;
		case 'leave':
			return `${part(when.part)} is no longer pointed at`;
		case 'key':
			return `key ${keyWord(when.key)} is pressed`;
		case 'button':
			return `pad button ${when.button + 1} is pressed`;
		case 'parameter':
			return `${when.name} goes ${when.way} ${when.value}`;
		case 'cue':
			return `${clip(when.clip)} passes ${quoted(when.cue)}`;
		case 'end':
			return `${clip(when.clip)} ends`;
	}
}

function rounds(count: number | null | undefined): string {
	if (count === undefined) return '';
	if (count === null) return ', for ever';
	return count === 1 ? ', once' : `, ${count} times`;
}

/** Such as “play pelican hop, 2 times, in layer birds”. */
export function tellDeed({ clip, layer }: TriggerNames, then: TriggerDeed | Deed): string {
	if (then.kind === 'tell') return `tell code ${quoted(then.name)}`;
	const where = then.layer ? `, in layer ${layer(then.layer)}` : '';
	const over = 'seconds' in then && then.seconds ? ` over ${seconds(then.seconds)}` : '';
	switch (then.kind) {
		case 'play':
			return `play ${clip(then.clip)}${rounds(then.count)}${then.queued ? ', when what plays has ended' : ''}${where}`;
		case 'toggle':
			return then.other
				? `switch between ${clip(then.clip)} and ${clip(then.other)}${where}`
				: `play ${clip(then.clip)}, or let it finish its round${where}`;
		case 'stop':
			return then.withRound ? `stop at the end of the round${where}` : `stop${over}${where}`;
		case 'weigh':
			return `weight ${then.weight}${over}${where}`;
	}
}

/** Such as “after 0.5 s ”; nothing without a delay. */
export function tellDelay(delay: number | undefined): string {
	return delay ? `after ${seconds(delay)} ` : '';
}

/** A trigger as one sentence. */
export function tellTrigger(doc: Doc, { when, then, delay }: Trigger): string {
	const names = namesIn(doc);
	return `when ${tellMoment(names, when)} → ${tellDelay(delay)}${tellDeed(names, then)}`;
}

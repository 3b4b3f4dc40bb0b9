/** Triggers as sentences. */
import type { Trigger, TriggerDeed, TriggerMoment } from './triggers';
import type { Doc } from './types';

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
export function tellMoment(doc: Doc, when: TriggerMoment): string {
	const part = (id: string) => doc.parts[id]?.name ?? id;
	const clip = (id: string) => doc.clips[id]?.name ?? id;
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

/** Such as “play pelican hop, twice, in layer birds”. */
export function tellDeed(doc: Doc, then: TriggerDeed): string {
	const clip = (id: string) => doc.clips[id]?.name ?? id;
	const where =
		'layer' in then && then.layer !== null ? `, in layer ${doc.layers[then.layer]?.name ?? then.layer}` : '';
	switch (then.kind) {
		case 'play': {
			const { count, queued } = then;
			const rounds =
				count === undefined
					? ''
					: count === null
						? ', for ever'
						: count === 1
							? ', once'
							: `, ${count} times`;
			return `play ${clip(then.clip)}${rounds}${queued ? ', when what plays has ended' : ''}${where}`;
		}
		case 'toggle':
			return then.other === null
				? `play ${clip(then.clip)}, or let it finish its round${where}`
				: `switch between ${clip(then.clip)} and ${clip(then.other)}${where}`;
		case 'stop':
			if (then.withRound) return `stop at the end of the round${where}`;
			return `stop${then.seconds > 0 ? ` over ${seconds(then.seconds)}` : ''}${where}`;
		case 'weigh':
			return `weight ${then.weight}${then.seconds > 0 ? ` over ${seconds(then.seconds)}` : ''}${where}`;
		case 'tell':
			return `tell code ${quoted(then.name)}`;
	}
}

/** A trigger as one sentence. */
export function tellTrigger(doc: Doc, { when, then, delay }: Trigger): string {
	const later = delay > 0 ? `after ${seconds(delay)} ` : '';
	return `when ${tellMoment(doc, when)} → ${later}${tellDeed(doc, then)}`;
}

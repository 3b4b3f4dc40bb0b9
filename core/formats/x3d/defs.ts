/** Names of nodes in a file: those of parts and clips as XML has names. Source: XML 1.0, NCName. */
import { uniqueNames, type Prepared } from '../../tracks/ship';
import type { Track } from '../../tracks/track';

export interface Defs {
	part(id: string): string;
	clip(id: string): string;
	camera(part: string): string;
	material(part: string, surface: string): string;
	tap(part: string): string;
	/** The interpolator of a track, and what it drives. */
	track(id: string): string;
	target(track: Track): string;
}

function plainName(name: string): string {
	const plain = name.normalize('NFC').replace(/[^\p{L}\p{N}_-]+/gu, '_');
	return /^[\p{L}_]/u.test(plain) ? plain : `_${plain}`;
}

export function defsOf({ parts, clips }: Prepared): Defs {
	const used = uniqueNames([
		...parts.map(({ id, name }) => ({ id: `p ${id}`, name: plainName(name) })),
		...clips.map(({ clip }) => ({ id: `c ${clip.id}`, name: `${plainName(clip.name)}.clip` })),
	]);
	const named = (id: string) => used.get(id)!.replaceAll(' ', '_');
	const part = (id: string) => named(`p ${id}`);
	const clip = (id: string) => named(`c ${id}`);
	return {
		part,
		clip,
		camera: (id) => `${part(id)}.view`,
		material: (id, surface) => `${part(id)}.${surface}`,
		tap: (id) => `${part(id)}.touch`,
		track(id) {
			const [own, ...rest] = id.split('/');
			return `${clip(own)}.${part(rest[0])}.${plainName(rest.slice(1).join('/'))}`;
		},
		target({ part: { id }, path }) {
			if (path === 'translation' || path === 'rotation' || path === 'scale') return part(id);
			if (path === 'fieldOfView') return `${part(id)}.view`;
			const isLine = path === 'stroke' || path === 'line transparency';
			return `${part(id)}.${isLine ? 'stroke' : 'colour'}`;
		},
	};
}

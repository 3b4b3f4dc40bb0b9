/** A clip file handed over with its player: proven as the clip file is, which is in it. */
import { strFromU8, strToU8, zipSync, type Zippable } from 'fflate';
import type { ClipFile } from '../../../player/file/format';
import { partTree } from '../../clip/compile';
import type { Clip, Doc } from '../../document/types';
import { uniqueNames, type Shipped, type Shipper, type ShipOptions } from '../../tracks/ship';
import { clipFileShipper } from '../clips/shipping';
import { stemOfClips } from '../file-name';
import { writeTypes } from '../types/write';
import { FIRST_FILE } from './format';
import { writePage } from './html';
import kitText from './kit.generated.json?raw';
import { lookOf, plainerOn } from './looks';
import { writeReadme } from './readme';

/** What the build lays ready: files of the player by name, and scripts of the page. */
interface Kit {
	player: Record<string, string>;
	elements: string;
	world: string;
}
let kit: Kit | null = null;

/** The time of every file: the same clips make the same bytes. */
const EPOCH = new Date(1980, 0, 1);
/** Types of the player's entries, beside their modules. */
const ENTRIES: Readonly<Record<string, string>> = {
	'hillock-player': 'index',
	'hillock-player-dom': 'bind/dom',
	'hillock-player-three': 'bind/three',
	'hillock-player-live': 'bind/live',
};

async function ship(doc: Doc, clips: readonly Clip[], options: ShipOptions): Promise<Shipped> {
	const shipped = await clipFileShipper.ship(doc, clips, options);
	const { player, elements, world } = (kit ??= JSON.parse(kitText) as Kit);
	const { space, name: title } = doc.project;
	const file = JSON.parse(strFromU8(shipped.bytes)) as ClipFile;
	const { parts } = partTree(doc);
	const name = stemOfClips(doc, clips);
	const page = { title, looks: parts.map((part) => lookOf(part, space)) };
	const texts: Record<string, string> = {
		[FIRST_FILE]: player[FIRST_FILE],
		'index.html': writePage(title, file, page, space === 'world' ? world : elements),
		'README.md': writeReadme({ title, name, space, firstClip: [...uniqueNames(clips).values()][0] }),
		[`${name}.clips.d.ts`]: writeTypes(doc, clips),
		...player,
		...Object.fromEntries(
			Object.entries(ENTRIES).map(([own, types]) => [
				`${own}.d.ts`,
				`export * from './types/${types}.js';\n`,
			]),
		),
	};
	const entries: Zippable = {};
	for (const [path, text] of Object.entries(texts))
		entries[path] = [strToU8(text), { level: 9, mtime: EPOCH }];
	entries[`${name}.clips.json`] = [shipped.bytes, { level: 9, mtime: EPOCH }];
	return { ...shipped, bytes: zipSync(entries), plainer: plainerOn(parts, space) };
}

export const clipPageShipper: Shipper = { ship };

/** What every format says of itself: pages read it too, so what reads and writes files is apart, in `loaders.ts`. */
import type { Doc } from '../document/types';
import type { Space } from '../pose/space';

/** What can be switched on when clips leave, beside the bounds. */
export interface FormatSwitch {
	/** As the API calls it. */
	id: string;
	/** As the command line calls it, without dashes. */
	flag: string;
	says: string;
	/** Another one, which it takes the place of. */
	excludes?: string;
	/** What files are called by it, with the dot; as always when absent. */
	extension?: string;
}

/** A number that can be chosen when clips leave. */
export interface FormatNumber {
	/** As the API calls it. */
	id: string;
	/** As the command line calls it, without dashes. */
	flag: string;
	says: string;
	/** With the space before it. */
	unit: string;
	lowest: number;
	highest: number;
	whole?: true;
	/** What it is where nobody says: of a project, and in words. */
	initial: (doc: Doc) => number;
	initially: string;
}

/** What reads the files of a format. */
export type Readers = 'engines' | 'web' | 'tools';
export const READERS: readonly Readers[] = ['engines', 'web', 'tools'];

/** How clips leave as a format. */
export interface FormatShipping {
	for: Readers;
	/** What it is for, in a few words. */
	about: string;
	/** Whether the parts' drawings are in the file. */
	hasDrawings: boolean;
	/** Whether motion is in it, to be bounded and measured. */
	hasMotion: boolean;
	/** The spaces that it is for; all when absent. */
	spaces?: readonly Space[];
	switches: readonly FormatSwitch[];
	numbers?: readonly FormatNumber[];
	/** The lines that set a clip of such a file going: for whom, and the lines by the names of file and clip. */
	usage?: readonly { who: string; lines: (file: string, clip: string) => string }[];
	/** What plays such files, to be taken along: files that the server has. */
	playedBy?: readonly { path: string; says: string }[];
}

/** How a file ends that leaves with these switches. */
export function extensionOf(
	{ extensions, ships }: Pick<Format, 'extensions' | 'ships'>,
	switches: Readonly<Record<string, boolean>>,
): string {
	const own = ships?.switches.find(({ id, extension }) => extension !== undefined && switches[id]);
	return own?.extension ?? extensions[0];
}

/** A project that came in. */
export interface TakenIn {
	doc: Doc;
	/** What the project refers to, each by the SHA-256 of its content. */
	files: { id: string; name: string; content: Uint8Array }[];
	/** What could not be taken, in words. */
	leftOut: string[];
}

/** The file that is read: its bytes, what its project is called, and the SHA-256 of its content. */
export interface FileIn {
	bytes: Uint8Array;
	name: string;
	sha256: string;
}

/** How sure a format is that some bytes are its own: not at all, perhaps, or certain. */
export type Likeness = 0 | 1 | 2;

export interface Format {
	id: string;
	name: string;
	/** With their dots; the first is the one that is written. */
	extensions: readonly string[];
	/** The first is the one that is written. */
	mediaTypes: readonly string[];
	detect(bytes: Uint8Array): Likeness;
	/** Absent where clips cannot leave as it. */
	ships?: FormatShipping;
	/** Absent where it cannot come in. Larger files than `mostBytes` are refused; what is heavy is read apart. */
	takes?: { mostBytes: number; isHeavy?: boolean };
}

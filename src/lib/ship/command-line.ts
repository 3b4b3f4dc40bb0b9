/** The command that writes the same file in a build. */
export interface CommandOptions {
	/** Where the project file is fetched, and what it is kept as. */
	address: string;
	file: string;
	/** Names of the clips; "all" alone for every one. */
	clips: readonly string[];
	/** The format's id, and the ending of its files with the dot. */
	target: string;
	extension: string;
	/** Fraction of the range. */
	relative: number;
	/** Bounds in the paths' own units; 0 is none. */
	own: Readonly<Record<string, number>>;
	/** Switches of the format that are on, without dashes. */
	flags: readonly string[];
}

const quoted = (name: string) => (/^[\w.-]+$/.test(name) ? name : `"${name.replace(/(["\\$`])/g, '\\$1')}"`);

/** Works where it is pasted: it fetches the project from this server first. */
export function commandLine(options: CommandOptions): string {
	const { address, file, clips, target, extension, relative, own, flags } = options;
	return [
		`curl -fsS -o ${file} ${address} && npx hillock export`,
		file,
		...clips.map((clip) => `--clip${clip.startsWith('-') ? '=' : ' '}${quoted(clip)}`),
		`--to ${target}`,
		`--bound ${Number(relative.toPrecision(6))}`,
		...Object.entries(own).flatMap(([path, value]) => (value > 0 ? [`--bound-${path} ${value}`] : [])),
		...flags.map((flag) => `--${flag}`),
		`--out ${file.replace(/\.hillock\.(json|zip)$/, '')}${extension}`,
	].join(' ');
}

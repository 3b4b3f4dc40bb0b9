/** The command that writes the same file in a build. */
export interface CommandOptions {
	/** Where the project file is fetched, and what it is kept as. */
	address: string;
	file: string;
	/** The name of a profile that says all of what follows but the file; null where there is none. */
	profile: string | null;
	/** Names of the clips; "all" alone for every one. */
	clips: readonly string[];
	/** The format's id, and what the file is called. */
	target: string;
	out: string;
	/** Fraction of the range; null where nothing is bounded. */
	relative: number | null;
	/** Bounds in the paths' own units; 0 is none. */
	own: Readonly<Record<string, number>>;
	/** Bounds of single parts, as the command says them. */
	parts: readonly string[];
	/** Switches of the format that are on, without dashes. */
	flags: readonly string[];
	/** Whether each clip has a file of its own, in the folder `out`. */
	perClip: boolean;
	/** Numbers of the format that are chosen, by their flags. */
	numbers: Readonly<Record<string, number>>;
}

const quoted = (name: string) => (/^[\w.-]+$/.test(name) ? name : `"${name.replace(/(["\\$`])/g, '\\$1')}"`);

const option = (flag: string, name: string) => `--${flag}${name.startsWith('-') ? '=' : ' '}${quoted(name)}`;

/** Works where it is pasted: it fetches the project from this server first. */
export function commandLine(options: CommandOptions): string {
	const { address, file, profile, clips, target, out, relative, own, parts, flags, numbers, perClip } =
		options;
	const start = `curl -fsS -o ${file} ${address} && npx hillock export ${file}`;
	if (profile !== null) return `${start} ${option('profile', profile)} --out ${out}`;
	return [
		start,
		...clips.map((clip) => option('clip', clip)),
		`--to ${target}`,
		...(relative === null ? [] : [`--bound ${Number(relative.toPrecision(6))}`]),
		...Object.entries(own).flatMap(([path, value]) => (value > 0 ? [`--bound-${path} ${value}`] : [])),
		...parts.map((said) => option('bound-part', said)),
		...flags.map((flag) => `--${flag}`),
		...(perClip ? ['--file-per-clip'] : []),
		...Object.entries(numbers).map(([flag, value]) => `--${flag} ${value}`),
		`--out ${out}`,
	].join(' ');
}

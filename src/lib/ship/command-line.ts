/** The command that writes the same file in a build. */
export interface CommandOptions {
	/** Where the project file is fetched, and what it is kept as. */
	address: string;
	file: string;
	clip: string;
	/** Fraction of the range. */
	relative: number;
	own: { translation: number; rotation: number; scale: number };
	curvesOnly: boolean;
}

/** Works where it is pasted: it fetches the project from this server first. */
export function commandLine({ address, file, clip, relative, own, curvesOnly }: CommandOptions): string {
	const quoted = /^[\w.-]+$/.test(clip) ? clip : `"${clip.replace(/(["\\$`])/g, '\\$1')}"`;
	const words = [
		`curl -fsS -o ${file} ${address} && npx hillock export`,
		file,
		'--clip',
		quoted,
		'--to gltf',
		`--bound ${Number(relative.toPrecision(6))}`,
	];
	for (const [path, value] of Object.entries(own)) if (value > 0) words.push(`--bound-${path} ${value}`);
	if (curvesOnly) words.push('--curves-only');
	words.push(`--out ${file.replace(/\.hillock\.(json|zip)$/, '')}.glb`);
	return words.join(' ');
}

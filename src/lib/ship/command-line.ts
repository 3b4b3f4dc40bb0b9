/** The command that writes the same file in a build. */
export interface CommandOptions {
	file: string;
	clip: string;
	/** Fraction of the range. */
	relative: number;
	own: { translation: number; rotation: number; scale: number };
	curvesOnly: boolean;
}

export function commandLine({ file, clip, relative, own, curvesOnly }: CommandOptions): string {
	const quoted = /^[\w.-]+$/.test(clip) ? clip : `"${clip.replace(/(["\\$`])/g, '\\$1')}"`;
	const words = [
		'npx hillock export',
		file,
		'--clip',
		quoted,
		'--to gltf',
		`--bound ${Number(relative.toPrecision(6))}`,
	];
	for (const [path, value] of Object.entries(own)) if (value > 0) words.push(`--bound-${path} ${value}`);
	if (curvesOnly) words.push('--curves-only');
	words.push(`--out ${file.replace(/\.hillock\.json$/, '')}.glb`);
	return words.join(' ');
}

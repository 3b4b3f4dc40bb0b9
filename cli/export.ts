import { exportGltf } from '../core/formats/gltf/export';
import { FORMULA_LOOKS } from '../core/formats/gltf/path';
import type { Bounds } from '../core/formats/gltf/write';
import { CliError } from './error';
import { chosenClips, readProject, writeOut } from './files';

interface ExportOptions {
	clip: string;
	to: string;
	bound: number;
	boundTranslation?: number;
	boundRotation?: number;
	boundScale?: number;
	curvesOnly?: boolean;
	out: string;
}

export async function exportFile(file: string, options: ExportOptions): Promise<void> {
	if (options.to !== 'gltf') throw new CliError(`the target "${options.to}" is not known; there is: gltf`, 2);
	const doc = readProject(file);
	const clips = chosenClips(doc, options.clip);
	const bounds: Bounds = {
		relative: options.bound,
		translation: options.boundTranslation,
		rotation: options.boundRotation,
		scale: options.boundScale,
	};
	const written = await exportGltf(doc, clips, { bounds, curvesOnly: options.curvesOnly }).catch(
		(error: unknown) => {
			throw error instanceof RangeError ? new CliError(`${file}: ${error.message}`, 1) : error;
		},
	);
	writeOut(options.out, written.bytes);
	for (const clip of written.clips) {
		for (const note of clip.leftOut) process.stderr.write(`hillock: ${clip.name}: left out: ${note}\n`);
	}
	for (const note of written.plainer) process.stderr.write(`hillock: drawn plainer: ${note}\n`);
	const curves = written.clips.flatMap((clip) => clip.paths).reduce((sum, path) => sum + path.bytes, 0);
	const share = (100 * written.verified.worstShare).toFixed(1);
	process.stdout.write(
		`${options.out}: ${written.bytes.length} bytes, ${curves} of them curves; largest error ${share} % of its bound\n`,
	);
	const { measuredOnly } = written.verified;
	if (measuredOnly > 0)
		process.stdout.write(
			`${measuredOnly} ${measuredOnly === 1 ? 'path' : 'paths'} of formulas: within the bound at ${FORMULA_LOOKS} places a second, not guaranteed between them\n`,
		);
}

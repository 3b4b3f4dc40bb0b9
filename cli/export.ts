import { loadShipper } from '../core/formats/loaders';
import { SHIPPING, shippingFormat } from '../core/formats/registry';
import type { Bounds } from '../core/tracks/bounds';
import { measuredOnly, tellLeftOut, worstShare } from '../core/tracks/report';
import { FORMULA_LOOKS } from '../core/tracks/track';
import { CliError } from './error';
import { chosenClips, readProject, writeOut } from './files';

interface ExportOptions {
	clip: readonly string[];
	to: string;
	bound: number;
	boundTranslation?: number;
	boundRotation?: number;
	boundScale?: number;
	out: string;
	/** Switches and numbers of formats, by their ids. */
	[name: string]: unknown;
}

export async function exportFile(file: string, options: ExportOptions): Promise<void> {
	const format = shippingFormat(options.to);
	if (!format) {
		const known = SHIPPING.map(({ id }) => id).join(', ');
		throw new CliError(`the target "${options.to}" is not known; there is: ${known}`, 2);
	}
	const doc = readProject(file);
	const clips = chosenClips(doc, options.clip);
	const bounds: Bounds = {
		relative: options.bound,
		translation: options.boundTranslation,
		rotation: options.boundRotation,
		scale: options.boundScale,
	};
	const { switches, numbers = [] } = format.ships;
	const shipper = await loadShipper(format);
	const shipped = await shipper
		.ship(doc, clips, {
			bounds,
			switches: Object.fromEntries(switches.map(({ id }) => [id, options[id] === true])),
			numbers: Object.fromEntries(
				numbers.flatMap(({ id }) => (typeof options[id] === 'number' ? [[id, options[id]]] : [])),
			),
		})
		.catch((error: unknown) => {
			throw error instanceof RangeError ? new CliError(`${file}: ${error.message}`, 1) : error;
		});
	writeOut(options.out, shipped.bytes);
	for (const { name, leftOut } of shipped.clips)
		for (const own of leftOut) process.stderr.write(`hillock: ${name}: left out: ${tellLeftOut(own)}\n`);
	for (const note of shipped.plainer) process.stderr.write(`hillock: drawn plainer: ${note}\n`);
	if (!format.ships.hasMotion) {
		process.stdout.write(`${options.out}: ${shipped.bytes.length} bytes\n`);
		return;
	}
	const curves = shipped.clips.flatMap((clip) => clip.tracks).reduce((sum, { bytes }) => sum + bytes, 0);
	const share = (100 * worstShare(shipped)).toFixed(1);
	process.stdout.write(
		`${options.out}: ${shipped.bytes.length} bytes, ${curves} of them curves; largest error ${share} % of its bound\n`,
	);
	const measured = measuredOnly(shipped);
	if (measured > 0)
		process.stdout.write(
			`${measured} ${measured === 1 ? 'path' : 'paths'} of formulas: within the bound at ${FORMULA_LOOKS} places a second, not guaranteed between them\n`,
		);
}

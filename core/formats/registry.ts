/**
 * All formats: a new one is its folder, a line here and one in `loaders.ts`. Server, command line, pages and API take
 * their lists from it.
 */
import type { Format, FormatShipping } from './format';
import { bvh } from './bvh/format';
import { clipFile } from './clips/format';
import { css } from './css/format';
import { csv } from './csv/format';
import { webAnimations } from './animations/format';
import { clipPage } from './page/format';
import { clipTypes } from './types/format';
import { gltf } from './gltf/format';
import { samples } from './samples/format';
import { svg } from './svg/format';
import { x3d } from './x3d/format';
import { projectFile, projectPack } from './project/format';

export const FORMATS: readonly Format[] = [
	projectFile,
	gltf,
	clipFile,
	clipPage,
	css,
	webAnimations,
	svg,
	x3d,
	clipTypes,
	csv,
	bvh,
	samples,
	// Any zip may be one: last.
	projectPack,
];

export interface ShippingFormat extends Format {
	ships: FormatShipping;
}

/** Formats that clips leave as. */
export const SHIPPING = FORMATS.filter((format): format is ShippingFormat => format.ships !== undefined);

export function shippingFormat(id: string): ShippingFormat | undefined {
	return SHIPPING.find((format) => format.id === id);
}

/** What a file chooser offers where projects come in. */
export const ACCEPTED = FORMATS.filter(({ takes }) => takes)
	.flatMap(({ extensions, mediaTypes }) => [...extensions, ...mediaTypes])
	.join(',');

/** Whether a name ends as files of a format do. */
export function isNamedLike(format: Format, fileName: string): boolean {
	return format.extensions.some((extension) => fileName.toLowerCase().endsWith(extension));
}

/** The format that a file comes in as: by its bytes, and where these leave a choice, or are torn, by its name. */
export function formatOf(bytes: Uint8Array, fileName: string): Format | null {
	const isNamed = (format: Format) => isNamedLike(format, fileName);
	const sure = (format: Format) => 2 * format.detect(bytes) + (isNamed(format) ? 3 : 0);
	const likely = FORMATS.filter((format) => sure(format) > (format.takes ? 0 : 1));
	return likely.sort((a, b) => sure(b) - sure(a))[0] ?? null;
}

/** What reads and writes each format, loaded when it is needed. For the server and the command line: it is large. */
import { fail, type Result } from '../result';
import { shipperOf, type Shipper } from '../tracks/ship';
import type { FileIn, Format, TakenIn } from './format';
import { FORMATS, type ShippingFormat } from './registry';

const SHIPPERS: Readonly<Record<string, () => Promise<Shipper>>> = {
	gltf: async () => shipperOf((await import('./gltf/shipping')).gltfShipping),
	clips: async () => (await import('./clips/shipping')).clipFileShipper,
	player: async () => (await import('./page/shipping')).clipPageShipper,
	css: async () => (await import('./css/shipping')).cssShipper,
	animations: async () => (await import('./animations/shipping')).webAnimationsShipper,
	svg: async () => (await import('./svg/shipping')).svgShipper,
	x3d: async () => shipperOf((await import('./x3d/shipping')).x3dShipping),
	csv: async () => (await import('./csv/shipping')).csvShipper,
	types: async () => (await import('./types/shipping')).typesShipper,
};

type Take = (file: FileIn) => Promise<Result<TakenIn>>;
const TAKERS: Readonly<Record<string, () => Promise<Take>>> = {
	project: async () => (await import('./project/take')).takeProjectFile,
	pack: async () => (await import('./project/take')).takePack,
	gltf: async () => (await import('./gltf/read')).takeGltf,
	svg: async () => (await import('./svg/read')).takeSvg,
	x3d: async () => (await import('./x3d/read')).takeX3d,
	csv: async () => (await import('./csv/read')).takeCsv,
	bvh: async () => (await import('./bvh/read')).takeBvh,
	samples: async () => (await import('./samples/read')).takeSamples,
	css: async () => (await import('./css/read')).takeCss,
	animations: async () => (await import('./animations/read')).takeAnimations,
};

export function loadShipper({ id }: ShippingFormat): Promise<Shipper> {
	return SHIPPERS[id]();
}

/** Reads a file as a format says; null is none that is known. */
export async function takeIn(format: Format | null, file: FileIn): Promise<Result<TakenIn>> {
	if (!format?.takes) {
		const known = FORMATS.filter(({ takes }) => takes).map(({ extensions }) => extensions[0]);
		const why = format
			? `${format.name}: such a file holds what leaves, and cannot be taken in again`
			: 'This is no file that can be taken in';
		return fail('', `${why}: there are ${known.join(', ')}.`);
	}
	const { mostBytes } = format.takes;
	if (file.bytes.length > mostBytes)
		return fail('', `A ${format.name} file may have ${mostBytes / 1024 / 1024} MB at most.`);
	return (await TAKERS[format.id]())(file);
}

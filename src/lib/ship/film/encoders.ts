/** Frames as files: an encoder is given each canvas once, in order. */
import type { FilmOptions } from './options';

export interface Encoder {
	add(canvas: HTMLCanvasElement, index: number): Promise<void>;
	finish(): Promise<Blob>;
	/** Lets go of what is not finished. */
	cancel?(): Promise<void>;
}

export interface FilmKind {
	id: string;
	name: string;
	extension: string;
	/** Whether it shows nothing where nothing is. */
	hasAlpha: boolean;
	isVideo?: boolean;
	open: (options: FilmOptions, count: number) => Promise<Encoder>;
}

const blobOf = (canvas: HTMLCanvasElement) =>
	new Promise<Blob>((done, fail) =>
		canvas.toBlob(
			(blob) => (blob ? done(blob) : fail(new Error('The browser makes no PNG of this size.'))),
			'image/png',
		),
	);

/** Hundredths of a second, in which GIF counts. */
const HUNDREDTHS = 100;

async function openGif({ rate, ground }: FilmOptions): Promise<Encoder> {
	const { GIFEncoder, quantize, applyPalette } = await import('gifenc');
	const gif = GIFEncoder();
	const isClear = ground === null;
	return {
		async add(canvas, index) {
			const { width, height } = canvas;
			const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height);
			const format = isClear ? 'rgba4444' : 'rgb565';
			const palette = quantize(data, 256, { format, oneBitAlpha: isClear });
			const clear = isClear ? palette.findIndex((colour) => colour[3] === 0) : -1;
			// Whole hundredths, so that frames come no later the longer it plays.
			const at = (i: number) => Math.round((HUNDREDTHS * i) / rate);
			gif.writeFrame(applyPalette(data, palette, format), width, height, {
				palette,
				delay: (1000 / HUNDREDTHS) * (at(index + 1) - at(index)),
				repeat: 0,
				transparent: clear >= 0,
				transparentIndex: Math.max(0, clear),
				dispose: isClear ? 2 : -1,
			});
		},
		async finish() {
			gif.finish();
			return new Blob([gif.bytes() as Uint8Array<ArrayBuffer>], { type: 'image/gif' });
		},
	};
}

async function openFrames(): Promise<Encoder> {
	const { zip } = await import('fflate');
	const files: Record<string, [Uint8Array, { level: 0; mtime: Date }]> = {};
	return {
		async add(canvas, index) {
			const bytes = new Uint8Array(await (await blobOf(canvas)).arrayBuffer());
			files[`${String(index).padStart(4, '0')}.png`] = [bytes, { level: 0, mtime: new Date(1980, 0, 1) }];
		},
		finish: () =>
			new Promise((done, fail) =>
				zip(files, (error, bytes) =>
					error
						? fail(error)
						: done(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'application/zip' })),
				),
			),
	};
}

/** Pixels of the longer side of a sheet, at most. */
const MOST_SHEET = 4096;

async function openSheet({ width, height, ground }: FilmOptions, count: number): Promise<Encoder> {
	const columns = Math.ceil(Math.sqrt((count * height) / width));
	const rows = Math.ceil(count / columns);
	const scale = Math.min(1, MOST_SHEET / (columns * width), MOST_SHEET / (rows * height));
	const [w, h] = [Math.max(1, Math.floor(width * scale)), Math.max(1, Math.floor(height * scale))];
	const sheet = document.createElement('canvas');
	Object.assign(sheet, { width: columns * w, height: rows * h });
	const brush = sheet.getContext('2d')!;
	brush.imageSmoothingQuality = 'high';
	if (ground !== null) {
		brush.fillStyle = ground;
		brush.fillRect(0, 0, sheet.width, sheet.height);
	}
	return {
		async add(canvas, index) {
			brush.drawImage(canvas, (index % columns) * w, Math.floor(index / columns) * h, w, h);
		},
		finish: () => blobOf(sheet),
	};
}

async function openWebm({ rate }: FilmOptions): Promise<Encoder> {
	const { BufferTarget, CanvasSource, canEncodeVideo, Output, QUALITY_HIGH, WebMOutputFormat } =
		await import('mediabunny');
	const codec = (await canEncodeVideo('vp9')) ? 'vp9' : 'vp8';
	if (codec === 'vp8' && !(await canEncodeVideo('vp8')))
		throw new Error('This browser encodes no WebM: take GIF, or PNG frames.');
	const target = new BufferTarget();
	const output = new Output({ format: new WebMOutputFormat(), target });
	let source: InstanceType<typeof CanvasSource> | null = null;
	return {
		async add(canvas, index) {
			if (!source) {
				source = new CanvasSource(canvas, { codec, bitrate: QUALITY_HIGH });
				output.addVideoTrack(source, { frameRate: rate });
				await output.start();
			}
			await source.add(index / rate, 1 / rate);
		},
		async finish() {
			await output.finalize();
			return new Blob([target.buffer!], { type: 'video/webm' });
		},
		cancel: () => output.cancel(),
	};
}

export const FILM_KINDS: readonly FilmKind[] = [
	{ id: 'gif', name: 'GIF', extension: '.gif', hasAlpha: true, open: openGif },
	{ id: 'webm', name: 'WebM', extension: '.webm', hasAlpha: false, isVideo: true, open: openWebm },
	{ id: 'png', name: 'PNG frames', extension: '.frames.zip', hasAlpha: true, open: openFrames },
	{ id: 'sheet', name: 'Contact sheet', extension: '.png', hasAlpha: true, open: openSheet },
];

/** A clip as pictures, one for each frame of a film. */
import { compileClip } from '$core/clip/compile';
import { assetsOf } from '$core/document/assets';
import { partsInTree, type Clip, type Doc } from '$core/document/types';
import { addresses } from '$lib/api/client';
import { StageScene, type StageColours } from '$lib/stage/scene';
import { evaluateClip } from '$player/motion';
import { TICKS_PER_SECOND } from '$player/time';
import { frameCount, shownTicks, showsOnce, type FilmOptions } from './options';

/** Share of a frame's time for which its pictures are looked at. */
const SHUTTER = 0.5;
/** Pictures and models are there when none has come for so long. */
const QUIET_MS = 400;
const LONGEST_WAIT_MS = 8000;

/** The mean of some pictures of one size, with their alpha multiplied in. */
class Mean {
	private readonly sums: Float32Array;
	private count = 0;

	constructor(private readonly pixels: number) {
		this.sums = new Float32Array(4 * pixels);
	}

	add({ data }: ImageData): void {
		if (this.count++ === 0) this.sums.fill(0);
		for (let i = 0; i < data.length; i += 4) {
			const alpha = data[i + 3];
			this.sums[i] += data[i] * alpha;
			this.sums[i + 1] += data[i + 1] * alpha;
			this.sums[i + 2] += data[i + 2] * alpha;
			this.sums[i + 3] += alpha;
		}
	}

	take(out: ImageData): void {
		const { data } = out;
		for (let i = 0; i < 4 * this.pixels; i += 4) {
			const alpha = this.sums[i + 3];
			for (let k = 0; k < 3; k++) data[i + k] = alpha > 0 ? this.sums[i + k] / alpha : 0;
			data[i + 3] = alpha / this.count;
		}
		this.count = 0;
	}
}

export class FrameMaker {
	/** The frame that was made last. */
	readonly canvas = document.createElement('canvas');
	private readonly brush: CanvasRenderingContext2D;
	private readonly scene: StageScene;
	private readonly compiled;
	private readonly pose: Float64Array;
	private readonly mean: Mean | null;
	readonly count: number;

	constructor(
		private readonly doc: Doc,
		private readonly clip: Clip,
		private readonly options: FilmOptions,
		colours: StageColours,
	) {
		const { width, height, blur } = options;
		Object.assign(this.canvas, { width, height });
		this.brush = this.canvas.getContext('2d', { willReadFrequently: true })!;
		this.brush.imageSmoothingQuality = 'high';
		this.scene = new StageScene(
			document.createElement('canvas'),
			colours,
			{ assetPath: (asset) => addresses.asset(doc.project.id, asset) },
			false,
		);
		this.compiled = compileClip(doc, clip);
		this.pose = this.compiled.layout.rest.slice();
		this.mean = blur > 1 ? new Mean(width * height) : null;
		this.count = frameCount(clip, options);
	}

	/** Brings everything into the picture, once what parts are drawn with is there. */
	async ready(): Promise<void> {
		const { scene, doc, options } = this;
		await document.fonts.ready;
		scene.resize(options.width, options.height);
		scene.setDocument(doc, partsInTree(doc));
		this.place(0);
		if (assetsOf(doc).size > 0) {
			const begun = performance.now();
			let last = begun;
			scene.onrender = () => (last = performance.now());
			while (performance.now() - last < QUIET_MS && performance.now() - begun < LONGEST_WAIT_MS)
				await new Promise((done) => setTimeout(done, 50));
			scene.onrender = () => {};
		}
		scene.setClips([this.compiled]);
		const camera = partsInTree(doc).find(({ part }) => part.drawing.kind === 'camera');
		if (camera) scene.setLens(camera.part.id);
		scene.setView(doc.project.space === 'interface' ? 'screen' : camera ? 'camera' : 'front');
	}

	private place(ticks: number): void {
		evaluateClip(this.compiled, ticks, this.pose);
		this.scene.setPose({ layout: this.compiled.layout, pose: this.pose }, () => false);
	}

	/** Draws the clip at a time in ticks, over what the canvas has. */
	private draw(ticks: number): void {
		const { brush, canvas, options } = this;
		this.place(ticks);
		brush.clearRect(0, 0, canvas.width, canvas.height);
		if (options.ground !== null) {
			brush.fillStyle = options.ground;
			brush.fillRect(0, 0, canvas.width, canvas.height);
		}
		brush.drawImage(this.scene.shoot(), 0, 0, canvas.width, canvas.height);
	}

	/** Makes a frame; it is on the canvas then. */
	make(index: number): void {
		const { clip, options, brush, canvas, mean } = this;
		const step = (TICKS_PER_SECOND * options.speed) / options.rate;
		const end = shownTicks(clip, options);
		// The last frame of what plays once is its very end.
		const at = showsOnce(clip, options) && index === this.count - 1 ? end : index * step;
		const from = options.range?.from ?? 0;
		if (!mean) {
			this.draw(from + Math.min(at, end));
			return;
		}
		for (let i = 0; i < options.blur; i++) {
			this.draw(from + Math.min(at + (SHUTTER * step * i) / options.blur, end));
			mean.add(brush.getImageData(0, 0, canvas.width, canvas.height));
		}
		const out = brush.createImageData(canvas.width, canvas.height);
		mean.take(out);
		brush.putImageData(out, 0, 0);
	}

	destroy(): void {
		this.scene.destroy();
	}
}

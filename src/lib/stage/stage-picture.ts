/** The canvas of the stage: pictures one after the other, and a finer one once they stand still. */
import { WebGLRenderer, type Camera, type Scene } from 'three';
import { keep, readKept } from '$lib/ui/kept';

/** After this long without another picture the last one is drawn finely. */
const STILL_MS = 140;
/** Pictures nearer to each other than this are in a row; it goes on for as long as some times their distance. */
const ROW_MS = 1500;
const PATIENCE = 2;
const LONGEST_MS = 700;
const MOST_RATIO = 2;
/** Pixels drawn for each that is seen, along each side, where edges are not smoothed otherwise. */
const FINER = 2;

const EDGES = 'stage-edges';
/** Whether a picture that stands still is drawn again with smooth edges, where those that move have none. */
export const smoothEdges = {
	get: (): boolean => readKept(EDGES) !== 'rough',
	set: (isOn: boolean): void => keep(EDGES, isOn ? 'smooth' : 'rough'),
};

export class StagePicture {
	private readonly renderer: WebGLRenderer;
	/** Without a graphics processor smoothing each picture would cost too much. */
	readonly isSoftware = drawsBySoftware();
	private isFine = false;
	private timer: ReturnType<typeof setTimeout> | undefined;
	private drawnAt = -Infinity;

	/** `onstill` is told how many pixels are drawn for each CSS pixel, just before the fine picture. */
	constructor(
		private readonly canvas: HTMLCanvasElement,
		private readonly onstill: (ratio: number) => void,
	) {
		this.renderer = new WebGLRenderer({ canvas, alpha: true, antialias: !this.isSoftware });
		this.renderer.setPixelRatio(this.ratio);
		// Of parts that are revealed in part.
		this.renderer.localClippingEnabled = true;
	}

	private get ratio(): number {
		return Math.min(MOST_RATIO, window.devicePixelRatio || 1);
	}

	/** CSS pixels. */
	resize(width: number, height: number): void {
		this.renderer.setSize(width, height, false);
	}

	draw(scene: Scene, camera: Camera): void {
		this.setFine(false);
		this.canvas.removeAttribute('data-still');
		this.renderer.render(scene, camera);
		const now = performance.now();
		const since = now - this.drawnAt;
		this.drawnAt = now;
		// However slowly pictures come one after the other, none of them stands still: to draw it finely would slow the next.
		const row = Math.min(LONGEST_MS, Math.max(STILL_MS, PATIENCE * since));
		const still = since < ROW_MS ? row : STILL_MS;
		clearTimeout(this.timer);
		this.timer = setTimeout(() => {
			if (!this.isSoftware || smoothEdges.get()) {
				this.setFine(this.isSoftware);
				this.onstill(this.renderer.getPixelRatio());
				this.renderer.render(scene, camera);
			}
			// For those who take a picture of the page: this one stays.
			this.canvas.toggleAttribute('data-still', true);
		}, still);
	}

	/** Draws finely and at once; what is on the canvas is to be taken before anything else happens. */
	shoot(scene: Scene, camera: Camera): void {
		clearTimeout(this.timer);
		this.renderer.setPixelRatio(FINER);
		this.onstill(FINER);
		this.renderer.render(scene, camera);
	}

	private setFine(fine: boolean): void {
		if (fine === this.isFine) return;
		this.isFine = fine;
		this.renderer.setPixelRatio(fine ? this.ratio * FINER : this.ratio);
	}

	dispose(): void {
		clearTimeout(this.timer);
		this.renderer.dispose();
	}
}

function drawsBySoftware(): boolean {
	const gl = document.createElement('canvas').getContext('webgl2');
	const info = gl?.getExtension('WEBGL_debug_renderer_info');
	const name = info ? String(gl?.getParameter(info.UNMASKED_RENDERER_WEBGL)) : '';
	return /swiftshader|llvmpipe|software/i.test(name);
}

/** What of a part a clip moves, as properties that browsers animate. */
import type { Target } from '../../../player/layout';
import type { CompiledClip } from '../../clip/compile';
import { mergePieces, piecesOver, traceOf, type Trace } from '../../clip/trace';
import type { Part } from '../../document/types';
import type { Source } from '../../fit/source';
import { FORMULA_LOOKS } from '../../tracks/track';
import { evaluateVector } from '../../../player/curve/vector';
import { eulerInto, slerp } from '../../../player/maths/quaternion';

type Mix = (a: readonly number[], b: readonly number[], u: number, out: Float64Array) => void;

/** Properties by their names in CSS, with what they are set to. */
export type Declarations = Readonly<Record<string, string>>;

/** One animated property, in its own numbers. */
export interface Strip {
	part: Part;
	/** Of the document: translation, rotation … */
	path: string;
	/** What its keyframes are called by, and what a frame declares. */
	name: string;
	declare: (values: readonly number[]) => Declarations;
	/** Each number by itself, where its keys may be kept; else the source alone. */
	traces: readonly Trace[] | null;
	source: Source;
	/** Where the browser does not mix straight. */
	mix?: Mix;
	/** Whether a formula makes it: measured closely, not guaranteed. */
	isComputed: boolean;
}

/** Declarations as a rule has them. */
export function declared(declarations: Declarations): string {
	return Object.entries(declarations)
		.map(([property, value]) => `${property}: ${value}`)
		.join('; ');
}

const px = (v: number) => `${v}px`;
const percent = (v: number) => `${Number((100 * v).toFixed(6))}%`;

/** A rotation as an axis and degrees; about z alone as that. */
function turnText([x, y, z, w]: readonly number[]): string {
	const sine = Math.hypot(x, y, z);
	const angle = Number(((360 / Math.PI) * Math.atan2(sine, w)).toFixed(5));
	if (sine < 1e-9 || angle === 0) return 'z 0deg';
	const axis = [x, y, z].map((v) => Number((v / sine).toFixed(7)));
	return `${axis.join(' ')} ${angle}deg`;
}

/** Browsers mix colours with their alpha multiplied in. Source: CSS Color 4, 12.3. */
function colourText([r, g, b, alpha]: readonly number[]): string {
	const own = [r, g, b].map((v) => (alpha > 0 ? Number(((255 * v) / alpha).toFixed(3)) : 0));
	return `rgb(${own.join(' ')} / ${alpha})`;
}

/** The numbers of a target read together, each with a factor and a shift. */
function sourceOf(traces: readonly Trace[], end: number, change = (v: number, _k: number) => v): Source {
	return {
		size: traces.length,
		plain: true,
		start: 0,
		end,
		pieces: mergePieces(traces.map(({ pieces }) => pieces)),
		looks: traces.some(({ formula }) => formula) ? FORMULA_LOOKS : undefined,
		evaluate(t, out) {
			for (let k = 0; k < traces.length; k++) out[k] = change(traces[k].read(t), k);
		},
	};
}

/** Traces that are shifted: what is written is the difference from the rest. */
function shifted(trace: Trace, by: number): Trace {
	const { channel } = trace;
	const keys = channel?.keys.map((key) => ({ ...key, v: key.v - by }));
	return {
		...trace,
		channel: channel && ({ ...channel, keys } as typeof channel),
		read: (t, round) => trace.read(t, round) - by,
	};
}

class StripMaker {
	constructor(
		private readonly compiled: CompiledClip,
		private readonly part: Part,
	) {}

	private plain(path: string, name: string, traces: readonly Trace[], declare: Strip['declare']): Strip {
		return {
			part: this.part,
			path,
			name,
			declare,
			traces,
			source: sourceOf(traces, this.compiled.length),
			isComputed: traces.some(({ formula }) => formula !== null),
		};
	}

	private rotation({ at }: Target, angles: number): Strip {
		const { compiled, part } = this;
		const { length, layout } = compiled;
		const own = compiled.vectors.find(({ place }) => place === at);
		const traces = angles < 0 ? [] : [0, 1, 2].map((k) => traceOf(compiled, angles + k));
		const isFlat = [0, 1].every(
			(k) => traces[k] && !traces[k].channel && !traces[k].formula && layout.rest[angles + k] === 0,
		);
		if (!own && isFlat)
			return this.plain('rotation', 'rotate', [traces[2]], ([z]) => ({ rotate: `${z}deg` }));
		const values = new Float64Array(3);
		const source: Source = {
			size: 4,
			start: 0,
			end: length,
			pieces: own ? piecesOver(own.channel, length) : mergePieces(traces.map(({ pieces }) => pieces)),
			looks: traces.some(({ formula }) => formula) ? FORMULA_LOOKS : undefined,
			evaluate(t, out) {
				if (own) evaluateVector(own.vector, t, out);
				else {
					traces.forEach((trace, k) => (values[k] = trace.read(t)));
					eulerInto(values[0], values[1], values[2], part.eulerOrder, out);
				}
			},
		};
		return {
			part,
			path: 'rotation',
			name: 'rotate',
			declare: (values) => ({ rotate: turnText(values) }),
			traces: null,
			source,
			mix: slerp,
			isComputed: traces.some(({ formula }) => formula !== null),
		};
	}

	private colour({ at }: Target): Strip | null {
		const { compiled, part } = this;
		const own = compiled.vectors.find(({ place }) => place === at);
		if (!own) return null;
		const { kind } = part.drawing;
		const property = kind === 'label' ? 'color' : kind === 'path' ? 'fill' : 'background-color';
		const source: Source = {
			size: 4,
			plain: true,
			start: 0,
			end: compiled.length,
			pieces: piecesOver(own.channel, compiled.length).map(({ t, jump }) => ({ t, jump })),
			evaluate(t, out) {
				evaluateVector(own.vector, t, out);
				for (let k = 0; k < 3; k++) out[k] *= out[3];
			},
		};
		return {
			part,
			path: 'colour',
			name: 'colour',
			declare: (values) => ({ [property]: colourText(values) }),
			traces: null,
			source,
			isComputed: false,
		};
	}

	/** The strips of a target; none where CSS has no such thing. */
	of(target: Target): Strip[] {
		const { compiled } = this;
		const { path, at, size, part: id } = target;
		const { rest } = compiled.layout;
		const traces = () => Array.from({ length: size }, (_, k) => traceOf(compiled, at + k));
		const moves = ({ channel, formula }: Trace) => channel !== null || formula !== null;
		switch (path) {
			case 'translation': {
				const own = traces().map((trace, k) => shifted(trace, rest[at + k]));
				const seen = moves(own[2]) ? own : own.slice(0, 2);
				return [this.plain(path, 'translate', seen, (v) => ({ translate: v.map(px).join(' ') }))];
			}
			case 'rotation':
				return [this.rotation(target, compiled.layout.places.get(id)!.get('angles') ?? -1)];
			case 'scale': {
				const own = traces();
				const seen = moves(own[2]) || rest[at + 2] !== 1 ? own : own.slice(0, 2);
				return [this.plain(path, 'scale', seen, (v) => ({ scale: v.join(' ') }))];
			}
			case 'opacity':
				return [this.plain(path, 'opacity', traces(), ([v]) => ({ opacity: String(v) }))];
			case 'visible':
				return [
					this.plain(path, 'visible', traces(), ([v]) => ({ visibility: v < 0.5 ? 'hidden' : 'visible' })),
				];
			case 'colour': {
				const own = this.colour(target);
				return own ? [own] : [];
			}
			case 'size':
				return ['width', 'height'].flatMap((property, k) => {
					const [own] = [traces()[k]];
					return moves(own) ? [this.plain(path, property, [own], ([v]) => ({ [property]: px(v) }))] : [];
				});
			case 'radius':
				return [this.plain(path, 'radius', traces(), ([v]) => ({ 'border-radius': px(v) }))];
			case 'reveal':
				return [
					this.plain(path, 'reveal', traces(), (v) => ({
						'clip-path': `inset(${v.map(percent).join(' ')})`,
					})),
				];
			case 'trim':
				return [
					this.plain(path, 'trim', traces(), ([start, end]) => ({
						'stroke-dasharray': `${Number(Math.max(0, end - start).toFixed(9))} 2`,
						'stroke-dashoffset': String(0 - start),
					})),
				];
			default:
				return [];
		}
	}
}

/** What CSS can say of a target; empty where it cannot. */
export function stripsOf(compiled: CompiledClip, target: Target): Strip[] {
	const part = compiled.parts[compiled.indexOfPart.get(target.part)!];
	return new StripMaker(compiled, part).of(target);
}

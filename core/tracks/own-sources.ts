/** What makes tracks of what formats say in their own terms: the numbers of a part in a clip, read together. */
import type { CompiledClip } from '../clip/compile';
import { numberPlace } from '../clip/layout';
import { mergePieces, traceOf, type Trace } from '../clip/trace';
import type { Component, Part, Property } from '../document/types';
import type { Source } from '../fit/source';
import { reachOf } from './reach';
import { FORMULA_LOOKS, type OwnPath, type Track } from './track';

export class OwnSources {
	constructor(
		protected readonly compiled: CompiledClip,
		protected readonly part: Part,
	) {}

	protected trace(property: Property, component: Component): Trace | null {
		const place = numberPlace(this.compiled.layout, this.part.id, property, component);
		const trace = place < 0 ? null : traceOf(this.compiled, place);
		return trace?.channel || trace?.formula ? trace : null;
	}

	protected track(path: OwnPath, says: readonly string[], source: Source, unit = 1): Track {
		const { compiled, part } = this;
		return {
			id: `${compiled.clip.id}/${part.id}/${path}`,
			part,
			path,
			says,
			source,
			components: [],
			unit,
			...reachOf((t, out) => source.evaluate(t, out), source.size, source),
			guaranteed: source.looks === undefined,
		};
	}

	protected source(traces: readonly (Trace | null)[], size: number, evaluate: Source['evaluate']): Source {
		const moving = traces.filter((trace) => trace !== null);
		return {
			size,
			plain: true,
			start: 0,
			end: this.compiled.clip.length,
			pieces: mergePieces(moving.map(({ pieces }) => pieces)),
			looks: moving.some(({ formula }) => formula) ? FORMULA_LOOKS : undefined,
			evaluate,
		};
	}
}

/** One span of a CUBICSPLINE sampler under construction, and what looks for the longest one. */

export interface Segment {
	to: number;
	/** Values at the end, and tangents a second at both ends. */
	end: Float64Array;
	outTangent: Float64Array;
	inTangent: Float64Array;
}

export interface SegmentFinder {
	size: number;
	/** Values of a run's first key. */
	start: Float64Array;
	/** What the last search came to: its largest error over what it may be (of a failure, at least about that). */
	ratio: number;
	/** Makes ready for segments that start at a sample, with the values chosen there. */
	begin(from: number, startValues: Float64Array): void;
	/** The segment from there to another sample; null where there is none. */
	find(to: number): Segment | null;
}

/** What the source may do between samples, as a share of its slack: much less beside a cubic than beside a chord. */
export const SLACK_SHARE = 0.25;

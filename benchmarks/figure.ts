/** A row of the benchmark table. */
export interface Figure {
	what: string;
	measured: string;
	/** What must hold, in words; empty where the figure is only told. */
	wanted: string;
	kept: boolean;
}

export function figure(what: string, measured: string, wanted = '', kept = true): Figure {
	return { what, measured, wanted, kept };
}

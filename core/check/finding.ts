/** A finding is data: what was found, where and how much. Its text is made where it is shown. */

export type Severity = 'error' | 'warning' | 'note';

/** Numbers that a rule measured, and names of what it is about. */
export type Facts = Readonly<Record<string, number | string>>;

export interface Finding {
	/** The rule's id. */
	rule: string;
	severity: Severity;
	clip: string;
	/** Id of the channel or formula; null for what concerns a whole clip. */
	channel: string | null;
	/** Ticks. */
	t: number;
	facts: Facts;
	/** Ids of the rule's mends that fit, the most likely first. */
	mends: readonly string[];
}

/** A finding as its rule gives it; the rule's id, the clip and the channel are added to it. */
export interface Found {
	severity: Severity;
	t: number;
	facts?: Facts;
	mends?: readonly string[];
	/** Of rules that look at a whole clip: the channel or formula that it is about. */
	channel?: string;
}

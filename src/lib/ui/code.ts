/** What an editor of code is told of the code. */
export interface CodeName {
	name: string;
	/** The arguments of a function in words; null for the name of a number. */
	words: string | null;
}

export interface CodeProblem {
	/** Character at which it starts, where that is known. */
	index?: number;
	message: string;
}

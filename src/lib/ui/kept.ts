/** Small things that this browser keeps from one visit to the next; without storage they last as long as the page. */

/** Whether the browser keeps anything at all. */
export function canKeep(): boolean {
	try {
		localStorage.getItem('hillock');
		return true;
	} catch {
		return false;
	}
}

/** What is kept under a name, whatever it is; undefined where there is nothing. */
export function readKept(name: string): unknown {
	try {
		const text = localStorage.getItem(`hillock-${name}`);
		if (text === null) return undefined;
		try {
			return JSON.parse(text);
		} catch {
			// Single words are kept as they are.
			return text;
		}
	} catch {
		return undefined;
	}
}

/** The members of an object that is kept under a name; none where it is something else. */
export function readKeptMembers(name: string): Readonly<Record<string, unknown>> {
	const kept = readKept(name);
	return typeof kept === 'object' && kept !== null && !Array.isArray(kept)
		? (kept as Record<string, unknown>)
		: {};
}

export function keep(name: string, value: unknown): void {
	try {
		localStorage.setItem(`hillock-${name}`, typeof value === 'string' ? value : JSON.stringify(value));
	} catch {
		// It is as usual the next time.
	}
}

/**
 * A body that drops and rebounds: a fall of duration T, then arcs of duration 2·T·r^j and height r^(2j), j = 1…n,
 * with T = 1 / (1 + 2·Σ r^j), all in progress units. Source: free fall with a coefficient of restitution r.
 */

/** Progress at which the body touches the ground, the last one 1. */
export function bounceContacts(restitution: number, count: number): number[] {
	let sum = 0;
	for (let j = 1; j <= count; j++) sum += restitution ** j;
	const fall = 1 / (1 + 2 * sum);
	const contacts = [fall];
	for (let j = 1; j <= count; j++) contacts.push(contacts[j - 1] + 2 * fall * restitution ** j);
	contacts[count] = 1;
	return contacts;
}

/** Progress from 0 (where it is let go) to 1 (the ground); rebounds lead back towards 0. */
export function bounceEase(restitution: number, count: number): (x: number) => number {
	const contacts = bounceContacts(restitution, count);
	return (x) => {
		if (x <= 0) return 0;
		if (x >= 1) return 1;
		if (x < contacts[0]) return (x / contacts[0]) ** 2;
		let j = 1;
		while (j < count && x >= contacts[j]) j++;
		const from = contacts[j - 1];
		const u = (x - from) / (contacts[j] - from);
		return 1 - restitution ** (2 * j) * 4 * u * (1 - u);
	};
}

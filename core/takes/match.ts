/** Parts found by the likeness of their names: those of a recording, and those that it is laid on. */

/** Words that mean one thing in skeletons of different makers. */
const ALIKE: readonly (readonly string[])[] = [
	['left', 'l'],
	['right', 'r'],
	['thigh', 'upleg', 'upperleg'],
	['shin', 'calf', 'lowerleg', 'leg', 'knee'],
	['foot', 'ankle'],
	['toe', 'toebase', 'toes', 'ball'],
	['upperarm', 'uparm', 'arm'],
	['forearm', 'lowerarm', 'elbow'],
	['hand', 'wrist'],
	['shoulder', 'clavicle', 'collar'],
	['hips', 'hip', 'pelvis'],
	['chest', 'torso', 'spine'],
];
const MEANING = new Map(ALIKE.flatMap((words) => words.map((word) => [word, words[0]])));
/** Two words that are one where they follow each other: `up leg`, `lower arm`. */
const PAIRED = /\b(up|upper|low|lower|fore) (leg|arm)\b/g;
const LOWER: Readonly<Record<string, string>> = {
	low: 'lower',
	lower: 'lower',
	up: 'up',
	upper: 'up',
	fore: 'fore',
};
/** Names that are less alike than this are not of one thing. */
const LEAST_LIKENESS = 0.5;
const SIDES: Readonly<Record<string, string>> = { left: 'right', right: 'left' };
const isSide = (word: string) => word in SIDES;

/** The words of a name, in small letters, each by what it means. */
export function wordsOf(name: string): string[] {
	return name
		.replace(/(\p{Ll}|\d)(\p{Lu})/gu, '$1 $2')
		.replace(/(\p{L})(\d)/gu, '$1 $2')
		.toLowerCase()
		.replace(/[^\p{L}\d]+/gu, ' ')
		.trim()
		.replace(PAIRED, (_, which: string, limb: string) => LOWER[which] + limb)
		.split(' ')
		.map((word) => MEANING.get(word) ?? word);
}

/** What all names begin with says nothing about any of them. */
function withoutCommon(all: readonly string[][]): string[][] {
	if (all.length < 2) return [...all];
	let common = 0;
	const isCommon = (words: readonly string[]) =>
		words[common] === all[0][common] && words.slice(common + 1).some((word) => !isSide(word));
	while (all.every(isCommon)) common++;
	return all.map((words) => words.slice(common));
}

/** Pairs of letters of all words but those of a side. */
function pairsOf(words: readonly string[]): Map<string, number> {
	const pairs = new Map<string, number>();
	for (const word of words.filter((own) => !isSide(own)))
		for (let i = 0; i <= word.length; i++) {
			const pair = ` ${word} `.slice(i, i + 2);
			pairs.set(pair, (pairs.get(pair) ?? 0) + 1);
		}
	return pairs;
}

/**
 * 0…1: how much two names share, in pairs of letters of their words (Dice's coefficient). 0 where one is of the left and the
 * other of the right.
 */
function likeness(a: readonly string[], b: readonly string[]): number {
	if (a.find(isSide) !== b.find(isSide)) return 0;
	const [first, second] = [pairsOf(a), pairsOf(b)];
	let [shared, total] = [0, 0];
	for (const [pair, count] of first) {
		shared += Math.min(count, second.get(pair) ?? 0);
		total += count;
	}
	for (const count of second.values()) total += count;
	return total === 0 ? 1 : (2 * shared) / total;
}

/**
 * For each name the index of the one that is most like it, each at most once; null where none is. Mirrored, those of the left
 * are found on the right.
 */
export function matchNames(
	names: readonly string[],
	among: readonly string[],
	mirrored = false,
): (number | null)[] {
	const own = withoutCommon(names.map(wordsOf)).map((words) =>
		mirrored ? words.map((word) => SIDES[word] ?? word) : words,
	);
	const others = withoutCommon(among.map(wordsOf));
	const all = own.flatMap((words, i) => others.map((other, k) => ({ i, k, like: likeness(words, other) })));
	const found: (number | null)[] = names.map(() => null);
	const taken = new Set<number>();
	for (const { i, k, like } of all.sort((a, b) => b.like - a.like)) {
		if (like < LEAST_LIKENESS) break;
		if (found[i] !== null || taken.has(k)) continue;
		found[i] = k;
		taken.add(k);
	}
	return found;
}

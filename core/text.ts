/** Texts from outside as names: no longer than they may be, and never cut within a character. */

/** What is one sign to a reader, however many code units it has. */
const segments = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

/** A text without what is no character, trimmed and cut where a sign ends; what it is without where nothing is left. */
export function shortName(text: unknown, most: number, without = ''): string {
	// Halves of characters cannot be written in UTF-8.
	const whole =
		typeof text === 'string'
			? text.replace(/[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g, '')
			: '';
	const plain = whole.replace(/\p{Cc}+/gu, ' ').trim();
	if (plain.length <= most) return plain || without;
	let short = '';
	for (const { segment } of segments.segment(plain)) {
		if (short.length + segment.length > most) break;
		short += segment;
	}
	return short.trim() || without;
}

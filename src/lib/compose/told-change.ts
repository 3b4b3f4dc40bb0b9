/** What an edit touched, in words, for a row of the list of versions. */
import type { Touched } from '$core/edits/touched';
import { ticksToFrame } from '$core/time';
import { writeNumber } from '$lib/ui/number-text';

const plural = (count: number, what: string) => `${count} ${what}${count === 1 ? '' : 's'}`;

/** Such as "mail sack · translation y · frame 12 · 3.2 → 4.5 m"; empty where nothing can be said beyond the label. */
export function tellTouched(touched: Touched, frameRate: number): string {
	const { part, channel, others, keys, from, to, byTicks, before, after, unit } = touched;
	const frame = (ticks: number) => writeNumber(ticksToFrame(ticks, frameRate), 2);
	const told = [part, channel].filter((name) => name !== null);
	if (from !== null && to !== null) {
		told.push(from === to ? `frame ${frame(from)}` : `frames ${frame(from)}–${frame(to)}`);
		if (keys > 1) told.push(`${keys} keys`);
	}
	if (byTicks !== null) told.push(`moved ${byTicks > 0 ? '+' : '−'}${frame(Math.abs(byTicks))} f`);
	else if (before !== null && after !== null && before !== after)
		told.push(`${writeNumber(before)} → ${writeNumber(after)}${unit}`);
	else if (before === null && after !== null) told.push(`${writeNumber(after)}${unit}`);
	if (others > 0) told.push(`and ${plural(others, 'more channel')}`);
	return told.join(' · ');
}

import { describe, expect, it } from 'vitest';
import { linear, ProjectBuilder, REPEAT } from '../../demo/builder';
import { VERSION } from '../document/migrate';
import { validateDocument } from '../document/validate';
import { duplicateClip, updateClip } from '../edits/clips';
import { moveKeys } from '../edits/keys';
import { checkClip } from './check';
import { markIntended, markOn, unmark } from './intended';

const doc = new ProjectBuilder('Jump', 'world', 30)
	.part('crate', { kind: 'empty' })
	.startClip('up', 30, REPEAT)
	.keys('crate', 'translation.y', [
		[0, 0, linear],
		[12, 3, linear],
		[30, 2],
	])
	.build();
const [gap] = checkClip(doc, doc.clips.up);
const marked = markIntended(doc, gap, 'a cut');

describe('a finding that is intended', () => {
	it('is found all the same, with its reason, and can be made to count again', () => {
		expect(gap.rule).toBe('seam-gap');
		expect(checkClip(marked, marked.clips.up)).toEqual(checkClip(doc, doc.clips.up));
		const mark = markOn(marked, gap)!;
		expect(mark).toEqual({ rule: 'seam-gap', channel: gap.channel, t: 72_000, reason: 'a cut' });
		expect(markOn(doc, gap)).toBe(undefined);
		expect(unmark(marked, gap, mark)).toEqual(doc);
	});

	it('has one reason: a later one takes its place', () => {
		const again = markIntended(marked, gap, 'a film of one');
		expect(again.clips.up.intended).toHaveLength(1);
		expect(markOn(again, gap)?.reason).toBe('a film of one');
	});

	it('counts again where what it is about has moved', () => {
		const longer = updateClip(marked, 'up', { length: 100_000 });
		const [found] = checkClip(longer, longer.clips.up);
		expect([found.rule, markOn(longer, found)]).toEqual(['seam-gap', undefined]);
		const nudged = moveKeys(marked, new Map([[gap.channel!, new Set([28_800])]]), 2400, 0);
		expect(markOn(nudged, checkClip(nudged, nudged.clips.up)[0])?.reason).toBe('a cut');
	});

	it('is so in a copy of its clip too, and is kept in the file', () => {
		const copy = { ...marked.clips.up, id: 'again', name: 'again' };
		const both = duplicateClip(marked, 'up', copy, () => 'cue');
		const [found] = checkClip(both, both.clips.again);
		expect(markOn(both, found)?.reason).toBe('a cut');
		expect(validateDocument({ format: 'hillock-project', version: VERSION, ...both }).ok).toBe(true);
	});
});

/** What a command asks of the screen; whoever shows it takes it from here. */
import type { Cue } from '$core/document/types';
import type { BenchField } from './fields';

/** What can lie over the screen, one at a time. */
export type SheetName = 'help' | 'finder' | 'tween' | 'time' | 'nudge' | 'versions' | 'bounce' | 'new part';

export class Asks {
	/** A field of the bench to be brought into hand. */
	field = $state<BenchField | null>(null);
	/** What opens at the foot of the lanes. */
	popover = $state<'snap' | 'lane-kinds' | null>(null);
	/** A part that is being given another name in the lanes. */
	partName = $state<string | null>(null);
	/** A formula that has just been made: its text is written next. */
	formulaText = $state<string | null>(null);
	/** A cue that is there once it has been named. */
	newCue = $state.raw<Cue | null>(null);
	/** The sheet that lies over the screen. */
	sheet = $state<SheetName | null>(null);
	/** A new part is to be chosen among icons, or taken from a file. */
	newPart = $state<'icon' | 'picture' | 'drawing' | 'model' | null>(null);
	/** What the sheet about time is opened for. */
	timeChange = $state<'insert' | 'hold' | 'remove'>('insert');
	/** The page of the guide that stands beside the work, by its id; empty for that of the room. */
	guidePage = $state<string | null>(null);
	/** The first clip in six steps goes on beside the work. */
	guide = $state(false);
	/** Edits that clash with another window's are looked at, to choose. */
	conflicts = $state(false);

	toggleGuide(): void {
		this.guidePage = this.guidePage === null ? '' : null;
	}
}

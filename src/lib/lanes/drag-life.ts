/** Dragging an end of the bar that tells when a part is shown. */
import { moveEnd, putLives } from '$core/edits/life';
import { frameToTicks } from '$core/time';
import type { Session } from '$lib/session/session.svelte';
import { SLACK_TIME, type Gesture, type Pointer } from './gestures';
import type { Hit } from './hit';
import type { LanePicture } from './picture';
import type { Snap } from './snap';

/** Drags an end of a stretch in which a part is shown. */
export function dragLife(
	session: Session,
	picture: LanePicture,
	{ row, index, end }: Extract<Hit, { kind: 'life' }>,
	start: Pointer,
	snap: Snap,
	onGuide: (ticks: number | null) => void,
): Gesture {
	const lives = row.lives ?? [];
	const { clip } = picture;
	const least = Math.min(frameToTicks(1, picture.frameRate), lives[index].to - lives[index].from);
	const drag = session.startDrag(`Life of ${row.part.name}`);
	let moved = false;
	return {
		move(pointer) {
			const dx = pointer.x - start.x;
			if (!moved && Math.abs(dx) < SLACK_TIME) return;
			moved = true;
			const wanted = lives[index][end] + (picture.ticksAt(dx) - picture.ticksAt(0));
			const next = moveEnd(lives, index, end, snap(wanted, pointer.ctrl), clip.length, least);
			drag.update((doc) => putLives(doc, clip, row.id, next));
			onGuide(next[index][end]);
		},
		end() {
			onGuide(null);
			drag.commit();
		},
		cancel() {
			onGuide(null);
			drag.cancel();
		},
	};
}

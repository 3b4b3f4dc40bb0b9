/** Part rows that are dragged onto one another: what is let go on a part hangs on it from then on. */
import {
	draggable,
	dropTargetForElements,
	monitorForElements,
} from '@atlaskit/pragmatic-drag-and-drop/element/adapter';
import type { Attachment } from 'svelte/attachments';

const partOf = (data: Record<string | symbol, unknown>): string | null =>
	typeof data.hillockPart === 'string' ? data.hillockPart : null;

/** The row of a part, to be taken hold of. */
export function dragsPart(id: string, can: () => boolean): Attachment<HTMLElement> {
	return (element) => draggable({ element, canDrag: can, getInitialData: () => ({ hillockPart: id }) });
}

export interface PartTaker {
	accepts: (id: string) => boolean;
	over: (over: boolean) => void;
	drop: (id: string) => void;
}

/** A place where a dragged part may be let go. */
export function takesPart(taker: PartTaker): Attachment<HTMLElement> {
	return (element) =>
		dropTargetForElements({
			element,
			canDrop: ({ source }) => {
				const id = partOf(source.data);
				return id !== null && taker.accepts(id);
			},
			onDragEnter: () => taker.over(true),
			onDragLeave: () => taker.over(false),
			onDrop: ({ source }) => {
				taker.over(false);
				taker.drop(partOf(source.data)!);
			},
		});
}

/** Says whether a part is being dragged, until what it gives is called. */
export function watchPartDrags(dragging: (going: boolean) => void): () => void {
	return monitorForElements({
		canMonitor: ({ source }) => partOf(source.data) !== null,
		onDragStart: () => dragging(true),
		onDrop: () => dragging(false),
	});
}

/** Part rows that are dragged: what is let go on a part becomes its child, at its edge its sibling. */
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

/** Where on a row a part is let go: at its upper edge, on it, or at its lower edge. */
export type DropPlace = 'before' | 'on' | 'after';

export interface PartTaker {
	accepts: (id: string) => boolean;
	/** Places at the edges that it takes a part at; without any it is one place. */
	edges: () => readonly ('before' | 'after')[];
	over: (place: DropPlace | null) => void;
	drop: (id: string, place: DropPlace) => void;
}

/** A share of a row's height belongs to each edge. */
const EDGE = 0.3;

function placeIn(element: Element, y: number, edges: readonly ('before' | 'after')[]): DropPlace {
	const { top, height } = element.getBoundingClientRect();
	const share = (y - top) / height;
	if (share < EDGE && edges.includes('before')) return 'before';
	return share > 1 - EDGE && edges.includes('after') ? 'after' : 'on';
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
			onDrag: ({ location }) => taker.over(placeIn(element, location.current.input.clientY, taker.edges())),
			onDragLeave: () => taker.over(null),
			onDrop: ({ source, location }) => {
				taker.over(null);
				const place = placeIn(element, location.current.input.clientY, taker.edges());
				taker.drop(partOf(source.data)!, place);
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

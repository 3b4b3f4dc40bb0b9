/** A group of buttons with one place in the order of Tab: arrow keys go from one to the next, across and down. */
import type { Attachment } from 'svelte/attachments';
import { isPointed } from './pointed';

const MOVES: Readonly<Record<string, [dx: number, dy: number]>> = {
	ArrowLeft: [-1, 0],
	ArrowRight: [1, 0],
	ArrowUp: [0, -1],
	ArrowDown: [0, 1],
};

/** The place of the nearest one in the row above or below, by where their middles are; −1 for none. */
export function nextRow(
	boxes: readonly { left: number; top: number; width: number }[],
	at: number,
	dy: number,
): number {
	const { left, top, width } = boxes[at];
	const tops = boxes.map((box) => box.top).filter((other) => (dy > 0 ? other > top + 1 : other < top - 1));
	if (tops.length === 0) return -1;
	const row = dy > 0 ? Math.min(...tops) : Math.max(...tops);
	let best = -1;
	boxes.forEach((box, i) => {
		if (Math.abs(box.top - row) > 1) return;
		const off = (i: number) => Math.abs(boxes[i].left + boxes[i].width / 2 - left - width / 2);
		if (best < 0 || off(i) < off(best)) best = i;
	});
	return best;
}

/** Where a key leads from a place; null for a key that leads nowhere. */
function placeAfter(items: readonly HTMLElement[], at: number, key: string): number | null {
	if (key === 'Home') return 0;
	if (key === 'End') return items.length - 1;
	if (!Object.hasOwn(MOVES, key)) return null;
	const [dx, dy] = MOVES[key];
	if (dy === 0) return at + dx;
	const boxes = items.map((item) => item.getBoundingClientRect());
	return nextRow(boxes, at, dy);
}

/** Those that `selector` finds are gone through; the pressed one, else the first, is where Tab arrives. */
export function roving(selector: string): Attachment<HTMLElement> {
	return (group) => {
		const all = () => [...group.querySelectorAll<HTMLElement>(selector)];
		let inHand: HTMLElement | null = null;
		function settle() {
			const items = all();
			const own = items.find((item) => item === inHand);
			const stop = own ?? items.find((item) => item.ariaPressed === 'true') ?? items[0];
			for (const item of items) item.tabIndex = item === stop ? 0 : -1;
		}
		function onkeydown(event: KeyboardEvent) {
			const items = all();
			const at = items.indexOf(event.target as HTMLElement);
			// What a pointer has clicked keeps no keys from the work.
			if (at < 0 || isPointed(items[at]) || event.ctrlKey || event.metaKey || event.altKey) return;
			const next = placeAfter(items, at, event.key);
			if (next === null) return;
			event.preventDefault();
			event.stopPropagation();
			items[next]?.focus();
		}
		function onfocusin({ target }: FocusEvent) {
			inHand = target as HTMLElement;
			settle();
		}
		function onfocusout() {
			inHand = null;
			settle();
		}
		const watch = new MutationObserver(settle);
		watch.observe(group, { childList: true, subtree: true, attributeFilter: ['aria-pressed'] });
		settle();
		group.addEventListener('keydown', onkeydown);
		group.addEventListener('focusin', onfocusin);
		group.addEventListener('focusout', onfocusout);
		return () => {
			watch.disconnect();
			group.removeEventListener('keydown', onkeydown);
			group.removeEventListener('focusin', onfocusin);
			group.removeEventListener('focusout', onfocusout);
		};
	};
}

/** What a pointer has brought into focus: it keeps no keys from the work, as what was gone to by keyboard does. */

let pointed: Element | null = null;
let isPointing = false;

/** Whether an element has the focus only since it was clicked. */
export function isPointed(element: Element): boolean {
	return pointed !== null && (pointed === element || pointed.contains(element) || element.contains(pointed));
}

/** Watches until what it gives is called. */
export function watchPointed(): () => void {
	const stop = new AbortController();
	const { signal } = stop;
	const down = ({ target }: PointerEvent) => {
		isPointing = true;
		pointed = target as Element;
	};
	const up = () => (isPointing = false);
	const focus = () => {
		if (!isPointing) pointed = null;
	};
	// A drop-down that was opened by a click is done with when something is chosen in it.
	const change = ({ target }: Event) => {
		if (target instanceof HTMLSelectElement && isPointed(target)) target.blur();
	};
	window.addEventListener('pointerdown', down, { capture: true, signal });
	for (const type of ['pointerup', 'pointercancel'])
		window.addEventListener(type, up, { capture: true, signal });
	window.addEventListener('focusin', focus, { capture: true, signal });
	window.addEventListener('change', change, { signal });
	return () => stop.abort();
}

/** Keys that are typed while the sheet that they are for is on its way: none is lost, and none does something else. */

/** Milliseconds after which a sheet that was asked for does not come any more. */
const LONGEST_WAY = 5000;
const WRITTEN_IN = 'input:not([type="checkbox"], [type="radio"]), textarea';

/**
 * Keeps what is typed from the call on until something within a dialog or a menu has the focus; a field has it written. Escape, or the
 * function given back, ends it; `onescape` is told of the first.
 */
export function typeAhead(onescape: () => void): () => void {
	let text = '';
	let isEntered = false;
	const began = performance.now();
	const isOver = (node: EventTarget | null) =>
		(node as Element | null)?.closest?.('[role="dialog"], [role="menu"]') != null;

	function keep(event: KeyboardEvent) {
		if (isOver(event.target) || performance.now() - began > LONGEST_WAY) return end();
		event.preventDefault();
		event.stopImmediatePropagation();
		if (event.key === 'Escape') {
			end();
			onescape();
		} else if (isEntered) return;
		else if (event.key === 'Enter') isEntered = true;
		else if (event.key === 'Backspace') text = text.slice(0, -1);
		else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey) text += event.key;
	}
	function give({ target }: FocusEvent) {
		if (!isOver(target)) return;
		end();
		const field = target as HTMLInputElement;
		if (!field.matches(WRITTEN_IN)) return;
		if (text !== '') {
			field.setRangeText(text, field.selectionStart ?? 0, field.selectionEnd ?? 0, 'end');
			field.dispatchEvent(new InputEvent('input', { bubbles: true, inputType: 'insertText', data: text }));
		}
		// What is found by the text is there a moment later.
		if (isEntered)
			requestAnimationFrame(() =>
				field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true })),
			);
	}
	function end() {
		window.removeEventListener('keydown', keep, true);
		window.removeEventListener('focusin', give);
	}
	window.addEventListener('keydown', keep, true);
	window.addEventListener('focusin', give);
	return end;
}

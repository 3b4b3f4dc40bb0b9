// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { typeAhead } from './typed-ahead';

let page: HTMLElement;
/** What the workspace gets to hear. */
const heard: string[] = [];
const hear = (event: KeyboardEvent) => heard.push(event.key);

beforeEach(() => {
	heard.length = 0;
	document.body.innerHTML = '<main tabindex="-1"></main>';
	page = document.querySelector('main')!;
	page.focus();
	window.addEventListener('keydown', hear);
});
afterEach(() => window.removeEventListener('keydown', hear));

function press(...keys: string[]): void {
	for (const key of keys)
		document.activeElement!.dispatchEvent(
			new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }),
		);
}
function openDialog(inner: string): HTMLInputElement {
	document.body.insertAdjacentHTML('beforeend', `<div role="dialog">${inner}</div>`);
	const field = document.querySelector<HTMLInputElement>('[role="dialog"] > *')!;
	field.select?.();
	field.focus();
	return field;
}

it('what is typed before the field is there is written into it, over what it selects, and told', () => {
	typeAhead(() => {});
	press('s', 't', 'x', 'Backspace', 'ö');
	expect(heard).toEqual([]);
	const told = vi.fn();
	page.ownerDocument.addEventListener('input', told, { once: true });
	const field = openDialog('<input value="12">');
	expect(field.value).toBe('stö');
	expect(told).toHaveBeenCalledOnce();
	// From then on keys are the field's, and after it the workspace's.
	press('a');
	page.focus();
	press('b');
	expect(heard).toEqual(['a', 'b']);
	expect(field.value).toBe('stö');
});

it('Enter that came too early is pressed once the text is there; what is typed after it is nobody’s', async () => {
	typeAhead(() => {});
	press('o', 'k', 'Enter', 'x');
	const field = openDialog('<input>');
	expect(field.value).toBe('ok');
	await vi.waitFor(() => expect(heard).toEqual(['Enter']));
});

it('Escape gives up what was asked for; a dialog without a field gets nothing', () => {
	const gone = vi.fn();
	typeAhead(gone);
	press('g', 'Escape', 'h');
	expect(gone).toHaveBeenCalledOnce();
	expect(heard).toEqual(['h']);
	typeAhead(gone);
	press('i');
	openDialog('<button>Close</button>');
	press('j');
	expect(heard).toEqual(['h', 'j']);
	// A menu too has its keys to itself.
	page.focus();
	typeAhead(gone);
	document.body.innerHTML = '<div role="menu"><div role="menuitem" tabindex="-1">box</div></div>';
	document.querySelector<HTMLElement>('[role="menuitem"]')!.focus();
	press('Enter');
	expect(heard).toEqual(['h', 'j', 'Enter']);
});

it('holds no keys for a sheet that does not come', () => {
	const now = vi.spyOn(performance, 'now').mockReturnValue(0);
	typeAhead(() => {});
	now.mockReturnValue(4999);
	press('a');
	now.mockReturnValue(5001);
	press('b', 'c');
	expect(heard).toEqual(['b', 'c']);
	now.mockRestore();
});

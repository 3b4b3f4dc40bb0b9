// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, it } from 'vitest';
import { isPointed, watchPointed } from './pointed';

let stop: () => void;
beforeEach(() => {
	document.body.innerHTML =
		'<button id="a"><i id="in-a"></i></button><button id="b"></button><select><option>x</option></select>';
	stop = watchPointed();
});
afterEach(() => stop());

const element = <E extends HTMLElement>(selector: string) => document.querySelector<E>(selector)!;
const press = (on: Element, ...types: string[]) =>
	types.forEach((type) => on.dispatchEvent(new PointerEvent(type, { bubbles: true })));
const focused = (on: Element) => on.dispatchEvent(new FocusEvent('focusin', { bubbles: true }));

it.each(['pointerup', 'pointercancel'])(
	'a button that was clicked is pointed at until keys lead elsewhere: %s',
	(up) => {
		const [a, b] = [element('#a'), element('#b')];
		press(element('#in-a'), 'pointerdown');
		focused(a);
		press(a, up);
		expect([isPointed(a), isPointed(b)]).toEqual([true, false]);
		focused(b);
		expect([isPointed(a), isPointed(b)]).toEqual([false, false]);
	},
);

it('a drop-down that was clicked gives the keys back once something is chosen; one gone to by keys keeps them', () => {
	const select = element<HTMLSelectElement>('select');
	const choose = () => {
		select.focus();
		select.dispatchEvent(new Event('change', { bubbles: true }));
		return document.activeElement === select;
	};
	expect(choose()).toBe(true);
	press(select, 'pointerdown');
	expect(choose()).toBe(false);
});

it('nothing is watched any more once it is told so', () => {
	stop();
	press(element('#b'), 'pointerdown');
	expect(isPointed(element('#b'))).toBe(false);
});

import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { RULES } from '$core/check/rules';
import { shownKeys } from '$lib/ui/command';
import { GUIDE_PAGES, PAGE_OF_RULE } from '$lib/ui/guide-pages';
import { commandOf, findPages, GUIDE, pageOf } from '$lib/ui/guide-text';

/** Commands as the snapshot beside this lists them: id, group, label, keys. */
const commands = new Map(
	[...readFileSync('src/lib/compose/each-command.txt', 'utf8').matchAll(/^(\S.*?) \(\w+, (.+)\)$/gm)].map(
		([, id, told]) => [id, told],
	),
);
const links = GUIDE.flatMap(({ id, text }) =>
	[...text.matchAll(/\[([^\]]+)\]\(([^)]+)\)(?:\s+\(`([^`]+)`\))?/g)].map(([, words, href, keys]) => ({
		id,
		words,
		href,
		keys,
	})),
);

it('has its pages in the order of the work, each with a picture and what helps when it looks wrong', () => {
	const files = readdirSync('docs/guide').filter((name) => /^\d/.test(name));
	expect(files.map((name) => /^\d+-(\w+)\.md$/.exec(name)![1])).toEqual([...GUIDE_PAGES]);
	const index = readFileSync('docs/guide/README.md', 'utf8');
	for (const file of files) expect(index).toContain(`(${file})`);
	for (const { text, html, title } of GUIDE) {
		expect(text).toMatch(/^1\. \*\*/m);
		expect(text).toContain('## When it looks wrong');
		expect(html).toContain('<img src=');
		expect(html).not.toContain('undefined');
		// One screen.
		expect(text.split('\n').length, title).toBeLessThan(42);
	}
});

it('leads to commands that there are, by the keys that they have, and to pages and pictures that there are', () => {
	expect(links.length).toBeGreaterThan(70);
	for (const { id, words, href, keys } of links) {
		const command = commandOf(href);
		if (command === undefined) {
			expect(existsSync(`docs/guide/${href}`), `${id}: ${href}`).toBe(true);
			expect(pageOf(href)).toBeUndefined();
			continue;
		}
		const told = commands.get(command);
		expect(told, `${id}: ${words}`).toBeDefined();
		if (keys === undefined) continue;
		const shown = told!.split(', ').map(shownKeys);
		expect(shown, `${id}: ${words}`).toContain(keys);
	}
});

it('is found by words, titles first', () => {
	expect(findPages('loop')[0].id).toBe('loop');
	expect(findPages('mechanical').map(({ id }) => id)).toEqual(['shape']);
	expect(findPages('no such word')).toEqual([]);
});

it('tells more about whatever a check finds', () => {
	for (const { id } of RULES) expect(PAGE_OF_RULE, id).toHaveProperty(id);
});

import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { FORMATS } from '$core/formats/registry';

/** A line for each format, as the README has it. */
function table(): string {
	const yes = (is: unknown) => (is ? 'yes' : '');
	const rows = FORMATS.map(({ name, extensions, takes, ships }) => [
		name,
		extensions.map((ending) => `\`${ending}\``).join(' '),
		yes(takes),
		yes(ships),
		ships?.about ?? '',
	]);
	return [['format', 'files', 'comes in', 'leaves', 'what it is for'], ...rows]
		.map((row) => row.join(' | '))
		.join('\n');
}

it('the README tells of each format what the registry does', () => {
	const rows = readFileSync('README.md', 'utf8')
		.split('\n')
		.filter((line) => line.startsWith('|') && !line.startsWith('| -'));
	const from = rows.findIndex((line) => line.startsWith('| format'));
	const cells = rows
		.slice(from, from + FORMATS.length + 1)
		.map((line) => line.slice(1, -1).split('|'))
		.map((row) => row.map((cell) => cell.trim()).join(' | '));
	expect(cells.join('\n')).toBe(table());
});

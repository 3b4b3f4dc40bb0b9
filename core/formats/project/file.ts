/** The project file, `*.hillock.json`: stable and diff-friendly, members sorted, one key of a channel a line. */
import { validateDocument } from '../../document/validate';
import { VERSION } from '../../document/migrate';
import type { Doc } from '../../document/types';
import { fail, type Result } from '../../result';
import { parseJson } from '../../json';
import { MAX_FILE_LENGTH } from './limits';

function stable(value: unknown): unknown {
	if (Array.isArray(value)) return value.map(stable);
	if (typeof value !== 'object' || value === null) return value;
	return Object.fromEntries(
		Object.entries(value)
			.sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))
			.map(([name, member]) => [name, stable(member)]),
	);
}

function isFlat(value: unknown): boolean {
	return Array.isArray(value) && value.every((item) => typeof item !== 'object' || item === null);
}

function write(value: unknown, indent: string, inKeys: boolean): string {
	if (typeof value !== 'object' || value === null || isFlat(value)) return JSON.stringify(value);
	const deeper = `${indent}\t`;
	if (Array.isArray(value)) {
		const rows = value.map((item) => deeper + (inKeys ? JSON.stringify(item) : write(item, deeper, false)));
		return `[\n${rows.join(',\n')}\n${indent}]`;
	}
	const entries = Object.entries(value);
	if (entries.length === 0) return '{}';
	const rows = entries.map(
		([name, member]) => `${deeper}${JSON.stringify(name)}: ${write(member, deeper, name === 'keys')}`,
	);
	return `{\n${rows.join(',\n')}\n${indent}}`;
}

export function writeProjectFile(doc: Doc): string {
	const body = stable(doc) as object;
	return `${write({ format: 'hillock-project', version: VERSION, ...body }, '', false)}\n`;
}

/** Reads a project file, or says what is wrong with it and where. */
export function readProjectFile(text: string): Result<Doc> {
	if (text.length > MAX_FILE_LENGTH) {
		return fail('', `The file is larger than ${MAX_FILE_LENGTH / 1024 / 1024} MB.`);
	}
	const parsed = parseJson(text);
	if (!parsed.ok) return parsed;
	const value = parsed.value;
	if (
		typeof value !== 'object' ||
		value === null ||
		(value as { format?: unknown }).format !== 'hillock-project'
	) {
		return fail('/format', 'This is no Hillock project file: its "format" must be "hillock-project".');
	}
	return validateDocument(value);
}

import { fileStem } from '../file-name';

/** A name as CSS has identifiers. Source: CSS Syntax 3, 4.3.11: they begin with no digit. */
export function identifier(name: string): string {
	const stem = fileStem(name);
	return /^\d/.test(stem) ? `c-${stem}` : stem;
}

import { expect, it } from 'vitest';
import { fileStem } from './file-name';

it.each([
	['Parcel slip', 'parcel-slip'],
	['  Hafen: Nacht – Übersicht! ', 'hafen-nacht-übersicht'],
	['港の船', '港の船'],
	['../../etc', 'etc'],
	['…', 'project'],
])('a file of “%s” is called %s', (name, stem) => {
	expect(fileStem(name)).toBe(stem);
});

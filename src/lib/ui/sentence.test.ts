import { expect, it } from 'vitest';
import { sentence } from './sentence';

it('a label begins with a capital, and is left alone beyond', () => {
	expect(['opacity', 'translation y', 'ångström', ''].map(sentence)).toEqual([
		'Opacity',
		'Translation y',
		'Ångström',
		'',
	]);
});

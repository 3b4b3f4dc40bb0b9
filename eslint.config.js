import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript';
import { importX } from 'eslint-plugin-import-x';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** What a layer may not import. Arrows of the design point down: cli and src to core, never back. */
const noUpward = (patterns) => ({
	'no-restricted-imports': [
		'error',
		{
			patterns: patterns.map((group) => ({ group: [group], message: 'This layer may not import that one.' })),
		},
	],
});

/** The floors of the core from the ground up: each may import those before it, and the player, which is under all. */
const FLOORS = [
	'pose',
	'easing',
	'outline',
	'curve',
	'formula',
	'document',
	'clip',
	'drawing',
	'blend',
	'fit',
	'edits',
	'motions',
	'takes',
	'check',
	'tracks',
	'formats',
	'rehearse',
];
const PLAYER_FLOORS = ['maths', 'easing', 'curve', 'blend'];
const upward = (root, floors) =>
	floors
		.map((floor, i) => ({
			target: `./${root}/${floor}`,
			from: floors.slice(i + 1).map((above) => `./${root}/${above}`),
			message: `${root}/${floor} is a lower floor.`,
		}))
		.slice(0, -1);
const floorZones = [
	...upward('player', PLAYER_FLOORS),
	{ target: './player', from: ['./core', './src', './cli', './demo'], message: 'The player stands alone.' },
	...upward('core', FLOORS),
	...['time', 'result', 'json'].map((ground) => ({
		target: `./core/${ground}.ts`,
		from: FLOORS.map((above) => `./core/${above}`),
		message: 'The ground imports no floor.',
	})),
];

/** The layers of the interface from the ground up; those of one row know nothing of each other. */
const LIB_LAYERS = [
	['api', 'ui', 'workers'],
	['session'],
	['acts'],
	['bar', 'lanes', 'stage'],
	['bench'],
	['compose', 'rehearse', 'ship', 'projects'],
];
const libZones = LIB_LAYERS.flatMap((row, i) =>
	row.map((layer) => ({
		target: `./src/lib/${layer}`,
		from: [...row.filter((peer) => peer !== layer), ...LIB_LAYERS.slice(i + 1).flat()].map(
			(above) => `./src/lib/${above}`,
		),
		message: `lib/${layer} is a lower layer, or a neighbour.`,
	})),
);

export default ts.config(
	{
		ignores: [
			'build/',
			'build-node/',
			'player/dist/',
			// Of no TypeScript project: they are built by a test.
			'examples/**/*.svelte',
			'static/player/',
			'static/game/',
			'.svelte-kit/',
			'data/',
			'**/*.generated.*',
			'test-results/',
			'playwright-report/',
		],
	},
	js.configs.recommended,
	...ts.configs.recommended,
	...svelte.configs.recommended,
	prettier,
	...svelte.configs.prettier,
	{
		languageOptions: { globals: { ...globals.browser, ...globals.node } },
		rules: {
			'no-undef': 'off',
			'no-console': 'error',
			'no-restricted-exports': [
				'error',
				{
					restrictDefaultExports: {
						direct: true,
						named: true,
						defaultFrom: true,
						namedFrom: true,
						namespaceFrom: true,
					},
				},
			],
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
			'svelte/no-navigation-without-resolve': 'off',
			'svelte/prefer-svelte-reactivity': 'off',
		},
	},
	{
		files: ['{core,player,src,cli,demo,e2e,benchmarks}/**/*.ts', 'src/**/*.svelte'],
		// The same extra extensions for all files: where they differ, the projects are loaded anew at each change.
		languageOptions: { parserOptions: { projectService: true, extraFileExtensions: ['.svelte'] } },
		rules: {
			'@typescript-eslint/no-floating-promises': 'error',
			'@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
		},
	},
	{
		files: ['core/**/*.ts', 'player/**/*.ts', 'src/**/*.{ts,svelte}', 'cli/**/*.ts'],
		ignores: ['**/*.test.ts'],
		rules: {
			'max-lines': ['error', 400],
			'max-lines-per-function': ['error', 60],
		},
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: {
			parserOptions: {
				projectService: true,
				extraFileExtensions: ['.svelte'],
				parser: ts.parser,
				svelteConfig,
			},
		},
	},
	{
		files: ['player/**/*.ts', 'core/**/*.ts', 'src/lib/**/*.ts'],
		ignores: ['**/*.test.ts'],
		plugins: { 'import-x': importX },
		settings: {
			'import-x/extensions': ['.ts'],
			'import-x/parsers': { '@typescript-eslint/parser': ['.ts'] },
			'import-x/resolver-next': [
				createTypeScriptImportResolver({
					project: ['core/tsconfig.json', 'tsconfig.json'],
					noWarnOnMultipleProjects: true,
				}),
			],
		},
		rules: { 'import-x/no-cycle': 'error' },
	},
	{
		files: ['src/lib/**/*.ts', 'src/lib/**/*.svelte'],
		ignores: ['**/*.test.ts'],
		plugins: { 'import-x': importX },
		settings: {
			'import-x/resolver-next': [
				createTypeScriptImportResolver({
					project: ['core/tsconfig.json', 'tsconfig.json'],
					noWarnOnMultipleProjects: true,
				}),
			],
		},
		rules: { 'import-x/no-restricted-paths': ['error', { zones: libZones }] },
	},
	{
		files: ['player/**/*.ts', 'core/**/*.ts'],
		ignores: ['**/*.test.ts'],
		rules: { 'import-x/no-restricted-paths': ['error', { zones: floorZones }] },
	},
	{
		files: ['player/**/*.ts', 'core/**/*.ts'],
		// The page that is handed over brings its scene along.
		ignores: ['**/*.test.ts', '**/*.testing.ts', 'player/page/world.ts'],
		rules: noUpward([
			'$lib/*',
			'**/src/**',
			'**/cli/**',
			'**/demo/**',
			'svelte*',
			'@sveltejs/*',
			'three*',
			'node:*',
			'better-sqlite3',
		]),
	},
	{
		files: ['src/lib/**/*.ts', 'src/lib/**/*.svelte', 'src/routes/**/*.svelte'],
		ignores: ['src/lib/server/**', '**/*.test.ts'],
		rules: noUpward(['**/cli/**', '$lib/server/*', 'better-sqlite3', 'piscina', 'node:*']),
	},
	{
		files: ['src/lib/server/**/*.ts'],
		rules: noUpward([
			'**/cli/**',
			'$lib/lanes/*',
			'$lib/stage/*',
			'$lib/bench/*',
			'$lib/session/*',
			'three*',
		]),
	},
	{ files: ['cli/**/*.ts'], rules: noUpward(['$lib/*', 'svelte*', 'three*']) },
	{
		files: [
			'*.config.{js,ts}',
			'**/*.config.ts',
			'eslint.config.js',
			'svelte.config.js',
			'src/lib/server/exports/worker.ts',
			'e2e/*.ts',
			'examples/**/*.config.js',
			'core/formats/gltf/gltf-validator.d.ts',
		],
		rules: { 'no-restricted-exports': 'off' },
	},
	{ files: ['examples/**'], rules: { 'no-console': 'off' } },
);

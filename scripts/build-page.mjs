/**
 * What a clip file is handed over with, as one file of texts for the writer: the player as it ships, its types, and the
 * scripts of the page that plays it, each a plain script, since a page that is opened from a disk may load no modules.
 */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';

const root = fileURLToPath(new URL('..', import.meta.url));
const dist = join(root, 'player/dist');

/** A page's script, by itself. */
async function script(entry) {
	const { output } = await build({
		root,
		configFile: false,
		logLevel: 'warn',
		publicDir: false,
		build: {
			write: false,
			target: 'es2022',
			minify: true,
			rollupOptions: { input: join(root, entry), output: { format: 'iife' } },
		},
	});
	return output[0].code;
}

const texts = Object.fromEntries(
	readdirSync(dist, { withFileTypes: true, recursive: true })
		.filter((entry) => entry.isFile() && /(\.js|\.d\.ts)$/.test(entry.name))
		.map((entry) => join(entry.parentPath, entry.name))
		.sort()
		.map((path) => [relative(dist, path).replaceAll('\\\\', '/'), readFileSync(path, 'utf8')]),
);
const kit = {
	player: texts,
	elements: await script('player/page/elements.ts'),
	world: await script('player/page/world.ts'),
};
writeFileSync(join(root, 'core/formats/page/kit.generated.json'), JSON.stringify(kit));

/** Writes the demo projects to their files: `node scripts/make-demo.mjs`. */
import { writeFileSync } from 'node:fs';
import { runnerImport } from 'vite';

const { module } = await runnerImport('./demo/files.ts', { configFile: false });
for (const [name, text] of Object.entries(module.demoFiles())) {
	writeFileSync(new URL(`../demo/${name}`, import.meta.url), text);
}

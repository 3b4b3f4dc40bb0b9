#!/usr/bin/env node
import { existsSync } from 'node:fs';

const entry = new URL('../build-node/hillock.js', import.meta.url);
if (existsSync(entry)) {
	await import(entry.href);
} else {
	process.stderr.write('hillock: not built yet: run "npm ci && npm run build" first\n');
	process.exitCode = 1;
}

/** `npm run soak`: the random tests of the suite at a length that takes minutes. Bounded in count; this machine only. */
import { installPackages, run } from './setup.mjs';

installPackages();
process.exit(
	run(
		'npx',
		[
			'vitest',
			'run',
			'src/lib/session/sync.test.ts',
			'core/formats/gltf/export.test.ts',
			'--testTimeout=1800000',
		],
		{ HILLOCK_INTERLEAVINGS: '5000', HILLOCK_PROJECTS: '1000' },
	),
);

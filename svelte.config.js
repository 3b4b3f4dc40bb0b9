import adapter from '@sveltejs/adapter-node';

/** @type {import('@sveltejs/kit').Config} */
export default {
	kit: {
		adapter: adapter(),
		alias: { $core: 'core', $player: 'player' },
		csp: {
			mode: 'auto',
			directives: {
				'default-src': ['self'],
				'script-src': ['self'],
				// Positions of keys and parts are set as inline styles.
				'style-src': ['self', 'unsafe-inline'],
				'img-src': ['self', 'data:', 'blob:'],
				'media-src': ['self', 'blob:'],
				'font-src': ['self'],
				// Pictures inside a model are read from blobs, the numbers of one that is text from itself.
				'connect-src': ['self', 'blob:', 'data:'],
				'worker-src': ['self', 'blob:'],
				'object-src': ['none'],
				'base-uri': ['self'],
				'form-action': ['self'],
				'frame-ancestors': ['none'],
			},
		},
		typescript: {
			config: (config) => ({
				...config,
				include: [
					...config.include,
					'../core/**/*.ts',
					'../player/**/*.ts',
					'../cli/**/*.ts',
					'../demo/**/*.ts',
					'../e2e/**/*.ts',
					'../benchmarks/**/*.ts',
					'../*.config.ts',
					'../*.config.js',
				],
			}),
		},
	},
};

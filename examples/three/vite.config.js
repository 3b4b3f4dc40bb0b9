import { defineConfig } from 'vite';

// The exported files are copied beside the built page.
export default defineConfig({
	base: './',
	publicDir: 'exported',
	build: { target: 'es2022' },
	logLevel: 'warn',
});

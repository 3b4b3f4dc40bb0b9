/** The command line: the same core and server as the application. */
import { run } from './program';

// Whoever reads may have had enough, as `head` does.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
	if (error.code !== 'EPIPE') throw error;
	process.exit();
});
await run(process.argv.slice(2));

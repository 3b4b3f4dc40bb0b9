/** The command line: the same core and server as the application. */
import { run } from './program';

await run(process.argv.slice(2));

/** An error for the person at the command line: one line, and an exit code (1 content, 2 usage or files). */
export class CliError extends Error {
	constructor(
		message: string,
		readonly exitCode: 1 | 2,
	) {
		super(message);
	}
}

/** Completion of commands and their options in a shell, from what the program knows. */
import type { Command } from 'commander';
import { CliError } from './error';

export const SHELLS = ['bash', 'zsh', 'fish'] as const;
type Shell = (typeof SHELLS)[number];

interface Words {
	name: string;
	about: string;
	options: string[];
}

function wordsOf(program: Command): Words[] {
	return program.commands.map((command) => ({
		name: command.name(),
		about: command.description(),
		options: [...command.options.flatMap(({ long }) => long ?? []), '--help'],
	}));
}

function bash(commands: readonly Words[]): string {
	const cases = commands.map(({ name, options }) => `\t${name}) words="${options.join(' ')}" ;;`);
	return [
		'_hillock() {',
		'\tlocal words="" word="${COMP_WORDS[COMP_CWORD]}"',
		`\tif [ "$COMP_CWORD" -eq 1 ]; then words="${commands.map(({ name }) => name).join(' ')}"`,
		'\telse case "${COMP_WORDS[1]}" in',
		...cases,
		'\tesac; fi',
		'\tif [[ "$word" == -* || "$COMP_CWORD" -eq 1 ]]; then COMPREPLY=($(compgen -W "$words" -- "$word"))',
		'\telse COMPREPLY=($(compgen -f -- "$word")); fi',
		'}',
		'complete -o filenames -F _hillock hillock',
	].join('\n');
}

function fish(commands: readonly Words[]): string {
	const quoted = (text: string) => `'${text.replaceAll("'", "\\'")}'`;
	return commands
		.flatMap(({ name, about, options }) => [
			`complete -c hillock -n __fish_use_subcommand -a ${name} -d ${quoted(about)}`,
			...options.map(
				(option) => `complete -c hillock -n '__fish_seen_subcommand_from ${name}' -l ${option.slice(2)}`,
			),
		])
		.join('\n');
}

/** Prints what a shell is to read at its start. */
export function printCompletion(shell: string, program: Command): void {
	if (!(SHELLS as readonly string[]).includes(shell))
		throw new CliError(`the shell "${shell}" is not known; there are: ${SHELLS.join(', ')}`, 2);
	const words = wordsOf(program);
	const texts: Record<Shell, () => string> = {
		bash: () => bash(words),
		// What bash reads, zsh can read too.
		zsh: () => `autoload -U +X bashcompinit && bashcompinit\n${bash(words)}`,
		fish: () => fish(words),
	};
	process.stdout.write(`${texts[shell as Shell]()}\n`);
}

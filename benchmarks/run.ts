/** Runs all benchmarks, or those named, and prints one table. */
import { cpus, totalmem } from 'node:os';
import { writeFileSync } from 'node:fs';
import { evaluationFigures } from './evaluation';
import { exportFigures } from './export';
import { fitFigures } from './fit';
import type { Figure } from './figure';
import { pageFigures } from './page';
import { playerFigures } from './player';
import { rehearseFigures } from './rehearse';
import { takeFigures } from './takes';

const BENCHMARKS: Record<string, () => Promise<Figure[]>> = {
	evaluation: evaluationFigures,
	player: playerFigures,
	fit: fitFigures,
	takes: takeFigures,
	export: exportFigures,
	page: pageFigures,
	rehearse: rehearseFigures,
};

function table(figures: readonly Figure[]): string {
	const rows = figures.map(
		({ what, measured, wanted, kept }) =>
			`| ${what} | ${measured} | ${wanted}${wanted ? (kept ? ' ✓' : ' ✗') : ''} |`,
	);
	return ['| what | measured | wanted |', '|---|---|---|', ...rows].join('\n');
}

export async function runBenchmarks(args: readonly string[]): Promise<void> {
	const named = args.filter((arg) => !arg.startsWith('--'));
	const parts: string[] = [];
	let kept = true;
	for (const [name, run] of Object.entries(BENCHMARKS)) {
		if (named.length > 0 && !named.includes(name)) continue;
		const figures = await run();
		kept &&= figures.every((figure) => figure.kept);
		const text = `## ${name[0].toUpperCase()}${name.slice(1)}\n\n${table(figures)}\n`;
		process.stdout.write(`${text}\n`);
		parts.push(text);
	}
	if (args.includes('--write')) {
		const machine = `${cpus()[0].model.trim()}, ${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GB, Node.js ${process.version}`;
		const head = `# Benchmarks\n\nWritten by \`npm run bench -- --write\` on: ${machine}. Ratios are of figures measured in the same run.\n`;
		writeFileSync('docs/benchmarks.md', `${head}\n${parts.join('\n')}`);
	}
	process.exitCode = kept ? 0 : 1;
}

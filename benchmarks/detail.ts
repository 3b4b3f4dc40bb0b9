import { bake, fit } from '../core/fit/fit';
import { samplerBytes } from '../core/fit/sampler';
import { fitCubic } from '../core/fit/cubic';
import { fitLinear } from '../core/fit/linear';
import { sampleRuns } from '../core/fit/samples';
import { makeCorpus } from './corpus';
for (const { name, source, range } of makeCorpus()) {
	const b = 0.001 * range;
	const f = fit(source, b);
	const runs = sampleRuns(source, b, new Set());
	const t0 = performance.now();
	for (let i = 0; i < 20; i++) sampleRuns(source, b, new Set());
	const t1 = performance.now();
	for (let i = 0; i < 20; i++) fitLinear(runs, source.size, b * 0.96);
	const t2 = performance.now();
	for (let i = 0; i < 20; i++) fitCubic(runs, source.size, b * 0.96);
	const t3 = performance.now();
	for (let i = 0; i < 20; i++) fit(source, b);
	const t4 = performance.now();
	const n = runs.reduce((s, r) => s + r.count, 0);
	console.log(
		name.padEnd(28),
		f.sampler.interpolation.padEnd(12),
		String(f.sampler.times.length).padStart(4),
		'keys',
		String(samplerBytes(f.sampler)).padStart(6),
		'B',
		(samplerBytes(f.sampler) / samplerBytes(bake(source, 60))).toFixed(3),
		'lin',
		fitLinear(runs, source.size, b * 0.96).times.length,
		'cub',
		fitCubic(runs, source.size, b * 0.96).times.length,
		'n',
		n,
		'ms',
		((t1 - t0) / 20).toFixed(2),
		((t2 - t1) / 20).toFixed(2),
		((t3 - t2) / 20).toFixed(2),
		'all',
		((t4 - t3) / 20).toFixed(2),
	);
}

/** Recordings of the harbour, made by code: a crane's hook that a hand has moved, and a puppet that walks. */

/** Numbers that are the same in every run, in −1…1 (a linear congruence). */
function wobble(seed: number): () => number {
	let state = seed;
	return () => (state = (state * 1_664_525 + 1_013_904_223) % 4_294_967_296) / 2_147_483_648 - 1;
}

const SECONDS = 6;
const RATE = 90;
/** Samples at which the device told nonsense. */
const SPIKES: ReadonlyMap<number, number> = new Map([
	[71, 0.9],
	[188, -0.7],
	[301, 0.8],
	[402, -1.1],
	[455, 0.6],
]);
const ease = (from: number, to: number, s: number) => {
	const x = Math.min(1, Math.max(0, (s - from) / (to - from)));
	return x * x * (3 - 2 * x);
};

/** A table of a hook that is let down, swings out and comes to rest: at uneven times, with a tremble and five spikes. */
export function hookTable(): string {
	const next = wobble(7);
	const rows = Array.from({ length: SECONDS * RATE }, (_, i) => {
		const s = (i + 0.35 * next()) / RATE;
		const swing = Math.exp(-0.7 * Math.max(0, s - 2)) * Math.sin(3.1 * Math.max(0, s - 2));
		const x = 1.2 * ease(0.6, 2, s) + 0.5 * swing + 0.006 * next();
		const y = 4 - 2.4 * ease(2.4, 4.6, s) + 0.005 * next() + (SPIKES.get(i) ?? 0);
		return [Math.max(0, s).toFixed(4), x.toFixed(4), y.toFixed(4)].join(',');
	});
	return `time [s],hook translation x [m],hook translation y [m]\n${rows.join('\n')}\n`;
}

interface Joint {
	name: string;
	on: string | null;
	offset: readonly [number, number, number];
	end?: readonly [number, number, number];
}
const limb = (side: 'left' | 'right'): Joint[] => {
	const way = side === 'left' ? 1 : -1;
	return [
		{ name: `${side} arm`, on: 'chest', offset: [18 * way, 18, 0] },
		{ name: `${side} forearm`, on: `${side} arm`, offset: [28 * way, 0, 0], end: [24 * way, 0, 0] },
		{ name: `${side} thigh`, on: 'hips', offset: [9 * way, -4, 0] },
		{ name: `${side} shin`, on: `${side} thigh`, offset: [0, -42, 0] },
		{ name: `${side} foot`, on: `${side} shin`, offset: [0, -40, 0], end: [0, -4, 16] },
	];
};
const JOINTS: readonly Joint[] = [
	{ name: 'hips', on: null, offset: [0, 0, 0] },
	{ name: 'chest', on: 'hips', offset: [0, 30, 0] },
	{ name: 'head', on: 'chest', offset: [0, 30, 0], end: [0, 20, 0] },
	...limb('left'),
	...limb('right'),
];
const FRAMES = 180;
const FRAME_SECONDS = 1 / 60;
const ROUND_SECONDS = 1.1;

/** Degrees about z, x and y of a joint at a phase of the walk. */
function turned(name: string, phase: number): [number, number, number] {
	const way = name.startsWith('left') ? 1 : -1;
	const swing = Math.sin(phase) * way;
	switch (name.replace(/^(left|right) /, '')) {
		case 'thigh':
			return [0, -27 * swing, 0];
		case 'shin':
			return [0, 6 + 38 * Math.max(0, Math.cos(phase) * way), 0];
		case 'foot':
			return [0, -9 * swing, 0];
		case 'arm':
			return [-72 * way, 21 * swing, 0];
		case 'forearm':
			return [0, 0, -way * (18 + 9 * swing)];
		case 'chest':
			return [0, 3, 6 * Math.sin(phase)];
		default:
			return [0, 0, 0];
	}
}

/** The harbour's puppet, walking three seconds: a skeleton with motion, its lengths in centimetres. */
export function walkingPuppet(): string {
	const order: Joint[] = [];
	const block = (joint: Joint, tabs: string): string => {
		order.push(joint);
		const own = joint.on === null ? '6 Xposition Yposition Zposition' : '3';
		const inside = `${tabs}\t`;
		const below = JOINTS.filter(({ on }) => on === joint.name).map((child) => block(child, inside));
		const end = joint.end
			? `${inside}End Site\n${inside}{\n${inside}\tOFFSET ${joint.end.join(' ')}\n${inside}}\n`
			: '';
		return (
			`${tabs}${joint.on === null ? 'ROOT' : 'JOINT'} ${joint.name}\n${tabs}{\n` +
			`${inside}OFFSET ${joint.offset.join(' ')}\n${inside}CHANNELS ${own} Zrotation Xrotation Yrotation\n` +
			`${below.join('')}${end}${tabs}}\n`
		);
	};
	const hierarchy = block(JOINTS[0], '');
	const rows = Array.from({ length: FRAMES }, (_, f) => {
		const phase = (2 * Math.PI * f * FRAME_SECONDS) / ROUND_SECONDS;
		const root = [1.5 * Math.sin(phase), 90 + 2.2 * Math.cos(2 * phase), 130 * f * FRAME_SECONDS];
		return [...root, ...order.flatMap(({ name }) => turned(name, phase))]
			.map((v) => v.toFixed(3).replace(/^-(0\.0+)$/, '$1'))
			.join(' ');
	});
	return `HIERARCHY\n${hierarchy}MOTION\nFrames: ${FRAMES}\nFrame Time: ${FRAME_SECONDS.toFixed(7)}\n${rows.join('\n')}\n`;
}

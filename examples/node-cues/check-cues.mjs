/** Which cues of a clip file come when; fails where one has no payload that the game knows. */
import { readFileSync } from 'node:fs';
import { Player, readClips } from 'hillock-player';

/** What the game does with each cue, and which members it reads. */
const KNOWN = {
	thump: ['loudness'],
	'sack at rest': [],
	hop: [],
	land: [],
	whistle: [],
	landed: [],
	'load up': [],
	'load down': [],
};
const set = readClips(JSON.parse(readFileSync(process.argv[2], 'utf8')));
let failed = 0;

for (const name of set.clips.keys()) {
	let now = 0;
	const player = new Player(set, {
		oncue: ({ cue }) => {
			console.log(`${name} ${now.toFixed(2)} s: ${cue.name} ${JSON.stringify(cue.payload)}`);
			const missing = KNOWN[cue.name]?.filter((member) => !(member in (cue.payload ?? {})));
			if (missing?.length === 0) return;
			failed++;
			console.error(missing ? `  its payload has no ${missing.join(', ')}` : '  the game knows no such cue');
		},
	});
	player.play({ clip: name });
	for (; now < 10; now += 0.05) player.advance(0.05);
}
process.exit(failed > 0 ? 1 : 0);

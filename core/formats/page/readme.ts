/** What stands beside a clip file that is handed over with its player. */
export interface HandedOver {
	title: string;
	/** The clip file's name, without its ending. */
	name: string;
	space: 'world' | 'interface';
	firstClip: string;
}

export function writeReadme({ title, name, space, firstClip }: HandedOver): string {
	const [entry, bind, what] =
		space === 'world'
			? ['three', 'bindToObjects(set, scene)', 'objects of a three.js scene that are called as the parts are']
			: [
					'dom',
					'bindToElements(set, document.body)',
					'elements with `data-part="NAME"`, nested as the parts are',
				];
	const call = bind.slice(0, bind.indexOf('('));
	const clip = JSON.stringify(firstClip);
	return `# ${title}: clips with their player

Open \`index.html\`, from this folder or from any server: it plays all clips, and needs no network.

| File | What it is |
|---|---|
| \`${name}.clips.json\` | the clips, their cues, blends, triggers and layers |
| \`${name}.clips.d.ts\` | their names for TypeScript: a name that is gone breaks the build |
| \`hillock-player.js\` and its three bindings | the player: ES modules without dependencies; types in \`types/\` |

Shown on ${what}, in a module of your own:

\`\`\`js
import { Player, readClips } from './hillock-player.js';
import { ${call} } from './hillock-player-${entry}.js';
const set = readClips(await (await fetch('${name}.clips.json')).json());
const player = new Player(set, { oncue: ({ cue }) => console.log(cue.name, cue.payload) });
const show = ${bind};
player.play({ clip: ${clip} });
let last = performance.now();
requestAnimationFrame(function frame(now) { player.advance((now - last) / 1000); last = now; show(player.pose); requestAnimationFrame(frame); });
\`\`\`
`;
}

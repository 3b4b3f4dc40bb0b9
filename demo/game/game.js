/** A small game beside Hillock: it plays the clip files of the demo projects with the player that ships, and follows them. */
import { placeOf, Player, readClips } from '/player/hillock-player.js';
import { bindToElements } from '/player/hillock-player-dom.js';
import { follow } from '/player/hillock-player-live.js';

const find = (id) => document.getElementById(id);
const told = find('told');
const tell = (text) => {
	const line = document.createElement('li');
	line.textContent = text;
	told.prepend(line);
	if (told.children.length > 50) told.lastChild.remove();
};

/** What parts of the harbour look like, in their own axes; y is up. */
const box = (w, h, x, y, fill) =>
	`<rect x="${x - w / 2}" y="${y - h / 2}" width="${w}" height="${h}" fill="${fill}"/>`;
const ball = (r, fill, y = 0) => `<circle cx="0" cy="${y}" r="${r}" fill="${fill}"/>`;
const paddles = Array.from(
	{ length: 8 },
	(_, i) =>
		`<rect x="-0.05" y="0.2" width="0.1" height="0.42" fill="#b88a2b" transform="rotate(${45 * i})"/>`,
).join('');
const SHAPES = {
	sea: box(36, 3.4, 0, 0, '#a1bfc2'),
	'quay wall': box(8.4, 1.3, 0, 0, '#8a7862'),
	'crane post': box(0.42, 4.3, 0, 2.15, '#5c6b73'),
	'crane arm': box(3.9, 0.28, 1.6, 0, '#b88a2b'),
	'crane pin': ball(0.2, '#f7f5ef'),
	rope: box(0.05, 1.1, 0, -0.55, '#22303a'),
	hook: ball(0.1, '#a94a28'),
	'mail sack': '<path d="M-0.5 0C-0.5 0.7 -0.2 0.8 0 1C0.2 0.8 0.5 0.7 0.5 0Z" fill="#c9a36a"/>',
	pelican:
		'<path d="M-0.6 0.6C-0.5 0.1 0.3 -0.1 0.5 0.5C0.6 0.9 0.5 1.1 0.7 1.2L0.5 1.35C0.3 1.2 0.4 0.8 0.4 0.5C0.2 0.2 -0.4 0.3 -0.6 0.6Z" fill="#f7f5ef" stroke="#22303a" stroke-width="0.03"/>',
	'pelican bill': '<path d="M0 0.06L0.62 -0.06C0.5 -0.2 0.24 -0.26 0.02 -0.1Z" fill="#b88a2b"/>',
	'pelican wing': '<path d="M-0.5 0.1L0.3 0.15C0.1 -0.2 -0.3 -0.15 -0.5 0.1Z" fill="#d9ccb0"/>',
	'pelican feet': box(0.3, 0.14, 0.05, 0.07, '#b88a2b'),
	ferry:
		'<path d="M-2.1 0.5L2.3 0.62C2.1 0.2 1.9 -0.1 1.6 -0.3L-1.6 -0.3C-1.9 -0.1 -2.1 0.2 -2.1 0.5Z" fill="#a94a28"/>',
	'ferry cabin': box(1.7, 0.6, 0, 0.3, '#f7f5ef'),
	'ferry funnel': box(0.32, 0.8, 0, 0.4, '#22303a'),
	'paddle wheel': ball(0.4, '#8a6a24') + paddles,
	buoy: '<path d="M-0.31 0L0.31 0L0 1.1Z" fill="#a94a28"/>',
	'buoy light': ball(0.12, '#b88a2b'),
	island: '<ellipse cx="0" cy="0" rx="2.3" ry="0.9" fill="#8a7862"/>',
	lighthouse: box(0.9, 3.6, 0, 1.8, '#f7f5ef'),
	gallery: box(1.3, 0.16, 0, 0, '#a94a28'),
	lamp: box(0.5, 0.6, 0, 0, '#b88a2b'),
	beam: '<path d="M0.2 -0.08L4.2 -0.62L4.2 0.62L0.2 0.08Z" fill="#e9d28a"/>',
	'lamp roof': '<path d="M-0.45 -0.25L0.45 -0.25L0 0.25Z" fill="#a94a28"/>',
	'signal lamp': ball(0.18, '#a94a28'),
};
for (let i = 1; i <= 5; i++) SHAPES[`kelp ${i}`] = box(0.34 - 0.04 * i, 0.5, 0, 0.22, '#3e6b4f');

/** What parts of the kiosk look like: width, height, radius, colour, text. */
const FACES = {
	screen: [360, 640, 28, '#f7f5ef'],
	'top bar': [328, 56, 14, '#2f6f8f'],
	title: [190, 30, 0, '', 'Parcels today', '#f7f5ef'],
	badge: [34, 34, 17, '#a94a28'],
	'badge count': [24, 24, 0, '', '3', '#f7f5ef'],
	slip: [296, 188, 16, '#efe3c8'],
	'slip number': [150, 30, 0, '', 'Parcel 4071', '#22303a'],
	'slip line 1': [240, 10, 5, '#c3d3d6'],
	'slip line 2': [180, 10, 5, '#c3d3d6'],
	'slip line 3': [210, 10, 5, '#c3d3d6'],
	'stamp mark': [52, 52, 6, '#a94a28'],
	gauge: [188, 188, 94, '#efe3c8'],
	needle: [8, 140, 4, '#a94a28'],
	'needle hub': [18, 18, 9, '#22303a'],
	'gauge label': [60, 26, 0, '', 'Tide', '#22303a'],
	'stamp button': [120, 120, 30, '#3e6b4f'],
	'stamp label': [84, 32, 0, '', 'Stamp', '#f7f5ef'],
	notice: [304, 64, 16, '#22303a'],
	'notice text': [230, 28, 0, '', 'The noon boat is early', '#f7f5ef'],
	'notice dot': [14, 14, 7, '#b88a2b'],
};

const restOf = ({ rest = {} }, path, missing) => rest[path] ?? missing;

/** Nested groups for the parts of the harbour; gives what shows a pose on them. */
function showHarbour({ parts, layout }) {
	const svg = find('harbour');
	svg.innerHTML = '<g transform="scale(1 -1)"></g>';
	const groups = parts.map(() => document.createElementNS('http://www.w3.org/2000/svg', 'g'));
	parts.forEach((part, i) => {
		groups[i].dataset.part = part.name;
		groups[i].innerHTML = SHAPES[part.name] ?? '';
		(groups[part.parent] ?? svg.firstChild).append(groups[i]);
	});
	const places = parts.map(({ name }) =>
		Object.fromEntries(
			['translation', 'rotation', 'scale', 'opacity', 'visible', 'colour'].map((path) => [
				path,
				placeOf(layout, name, path),
			]),
		),
	);
	return (pose) =>
		parts.forEach((part, i) => {
			const at = places[i];
			const numbers = (path, size, missing) =>
				at[path] < 0 ? restOf(part, path, missing) : pose.subarray(at[path], at[path] + size);
			const [x, y] = numbers('translation', 3, [0, 0, 0]);
			const [sx, sy] = numbers('scale', 3, [1, 1, 1]);
			// What turns about other axes than the one we look along is seen as narrower.
			const turn = at.rotation < 0 ? null : pose.subarray(at.rotation, at.rotation + 4);
			const z = turn
				? (2 * Math.atan2(turn[2], turn[3]) * 180) / Math.PI
				: restOf(part, 'rotation', [0, 0, 0])[2];
			const wide = turn ? 1 - 2 * (turn[1] * turn[1] + turn[2] * turn[2]) : 1;
			const narrowed = turn && Math.abs(turn[1]) > 0.01 ? wide : 1;
			groups[i].setAttribute('transform', `translate(${x} ${y}) rotate(${z}) scale(${sx * narrowed} ${sy})`);
			const opacity = numbers('opacity', 1, [1])[0];
			groups[i].style.opacity = opacity;
			groups[i].style.display = numbers('visible', 1, [1])[0] < 0.5 ? 'none' : '';
			if (at.colour >= 0) {
				const [r, g, b] = pose.subarray(at.colour, at.colour + 3).map((v) => 255 * v);
				groups[i].firstElementChild?.setAttribute('fill', `rgb(${r} ${g} ${b})`);
			}
		});
}

/** Nested elements for the parts of the kiosk: the player's own binding shows poses on them. */
function showKiosk(set) {
	const root = document.createElement('div');
	const boxes = set.parts.map(() => document.createElement('div'));
	set.parts.forEach((part, i) => {
		const own = boxes[i];
		own.dataset.part = part.name;
		const [x, y] = restOf(part, 'translation', [0, 0, 0]);
		Object.assign(own.style, {
			left: `${x}px`,
			top: `${y}px`,
			rotate: `${restOf(part, 'rotation', [0, 0, 0])[2]}deg`,
			opacity: restOf(part, 'opacity', [1])[0],
		});
		const [width, height, radius, colour, text = '', ink = ''] = FACES[part.name] ?? [0, 0, 0, ''];
		const face = document.createElement('div');
		face.className = 'face';
		face.textContent = text;
		Object.assign(face.style, {
			width: `${width}px`,
			height: `${height}px`,
			borderRadius: `${radius}px`,
			background: colour,
			color: ink,
		});
		own.append(face);
		(boxes[part.parent] ?? root).append(own);
	});
	find('kiosk').replaceChildren(root);
	return bindToElements(set, root);
}

/** A player on the clips of a project, which it follows. */
async function start(project, show) {
	const { projects } = await (await fetch('/api/projects')).json();
	const { id } = projects.find(({ name }) => name === project) ?? {};
	if (!id) throw new Error(`the project "${project}" is not there: start Hillock with its demo`);
	const url = `/api/projects/${id}/clips.json`;
	const set = readClips(await (await fetch(url)).json());
	const player = new Player(set, {
		onmessage: ({ name, payload }) => tell(`${name} ${payload === null ? '' : JSON.stringify(payload)}`),
	});
	const shown = { player, show: show(set) };
	player.start();
	follow(url, player, {
		onset: (next) => (shown.show = show(next)),
		onproblem: (problem) => tell(problem),
	});
	return shown;
}

const partAt = ({ target }) => target.closest('[data-part]')?.dataset.part;

async function run() {
	const harbour = await start('Quay', showHarbour);
	const kiosk = await start('Parcel slip', showKiosk);
	for (const [id, { player }] of [
		['harbour', harbour],
		['kiosk', kiosk],
	])
		find(id).addEventListener('click', (event) => {
			const part = partAt(event);
			if (part) player.send({ kind: 'tap', part });
		});
	addEventListener('keydown', ({ key, target }) => {
		if (target.matches('input, button')) return;
		for (const { player } of [harbour, kiosk]) player.send({ kind: 'key', key });
	});
	find('sail').onclick = () => harbour.player.send({ kind: 'key', key: 'ArrowRight' });
	for (const name of ['wind', 'fog'])
		find(name).oninput = ({ target }) => harbour.player.set(name, Number(target.value));
	find('still').onclick = () => harbour.player.trigger('all still');
	find('boat').onclick = () => kiosk.player.trigger('early boat');
	tell('Ready.');
	let last = performance.now();
	requestAnimationFrame(function frame(now) {
		const seconds = Math.min(0.2, Math.max(0, now - last) / 1000);
		last = now;
		for (const own of [harbour, kiosk]) {
			own.player.advance(seconds);
			own.show(own.player.pose);
		}
		requestAnimationFrame(frame);
	});
}

run().catch((error) => tell(error.message));

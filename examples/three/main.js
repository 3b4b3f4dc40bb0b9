/** The same motion twice: by three.js from the glTF file (left), by the player from the clip file (right). */
import { Player, readClips } from 'hillock-player';
import { bindToObjects } from 'hillock-player/three';
import {
	AmbientLight,
	AnimationMixer,
	DirectionalLight,
	PerspectiveCamera,
	Scene,
	WebGLRenderer,
} from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';

const loader = new GLTFLoader();
const [byThree, byPlayer, clips] = await Promise.all([
	loader.loadAsync('./quay.glb'),
	loader.loadAsync('./quay.glb'),
	fetch('./quay.clips.json').then((response) => response.json()),
]);
const scene = new Scene();
scene.add(new AmbientLight('#ffffff', 1.5), new DirectionalLight('#ffffff', 2));
byThree.scene.position.x = -5;
byPlayer.scene.position.x = 5;
scene.add(byThree.scene, byPlayer.scene);

const mixer = new AnimationMixer(byThree.scene);
mixer.clipAction(byThree.animations[0]).play();

const set = readClips(clips);
const player = new Player(set, { oncue: ({ cue }) => console.log('cue', cue.name, cue.payload) });
const show = bindToObjects(set, byPlayer.scene);
player.play({ clip: 'pelican hop' });

const camera = new PerspectiveCamera(40, innerWidth / innerHeight, 0.1, 200);
camera.position.set(0, 4, 28);
const renderer = new WebGLRenderer({ alpha: true });
renderer.setSize(innerWidth, innerHeight);
document.body.append(renderer.domElement);

/** Lets both go on by the same seconds. */
function advance(seconds) {
	mixer.update(seconds);
	player.advance(seconds);
	show(player.pose);
}
let last = performance.now();
renderer.setAnimationLoop((now) => {
	advance(Math.max(0, now - last) / 1000);
	last = now;
	renderer.render(scene, camera);
});
/** For a look from outside: where the pelican is in both. */
globalThis.pelicans = () =>
	[byThree.scene, byPlayer.scene].map((own) => own.getObjectByName('pelican').position.toArray());

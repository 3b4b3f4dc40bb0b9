/**
 * Plays a clip of an .animations.json file on the elements below `root` that have a part's name as data-part. Gives
 * the animations: they can be paused, sought, reversed, awaited (`finished`). Those who want less motion see the end.
 */
export function playAnimations(file, clip, root) {
	if (!Object.hasOwn(file.clips, clip)) throw new RangeError(`there is no clip "${clip}"`);
	const { timing, parts } = file.clips[clip];
	const calm = matchMedia('(prefers-reduced-motion: reduce)').matches;
	const elements = [root, ...root.querySelectorAll('[data-part]')];
	const animations = elements.flatMap((element) =>
		Object.hasOwn(parts, element.dataset.part ?? '')
			? parts[element.dataset.part].map((keyframes) => element.animate(keyframes, timing))
			: [],
	);
	if (calm)
		for (const animation of animations) {
			if (timing.iterations === 'Infinity') animation.cancel();
			else animation.finish();
		}
	return animations;
}

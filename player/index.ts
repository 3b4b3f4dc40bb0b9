/** The player: reads clip files and plays them. What shows its poses is apart, in `hillock-player/dom` and `/three`. */
export { readClips, type ReadClips } from './file/read';
export type { ClipFile } from './file/format';
export type { Names } from './clips';
export {
	Player,
	PlayerLayer,
	type BlendSpec,
	type ClipSet,
	type LayerOptions,
	type PlayerClip,
	type PlayerCue,
	type PlayerEvent,
	type PlayerLoop,
	type PlayerOptions,
	type PlayRequest,
} from './player';
export { placeOf, type PoseLayout, type Target } from './layout';
export type { Cue } from './cues';
export type { Deed, Moment, PlayerTrigger } from './triggers';

import { PLAYS_ONCE, type CurveContext } from '../curve/handles';
import type { Channel, Clip } from '../document/types';

/** What a channel's curve must know of its clip. */
export function contextOfChannel(channel: Channel, clip: Clip): CurveContext {
	if (clip.loop.mode !== 'repeat') return PLAYS_ONCE;
	return { repeats: true, length: clip.length, accumulates: channel.accumulates };
}

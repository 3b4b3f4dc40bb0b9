/** A take of how loud the clip's sound is. */
import { toast } from 'svelte-sonner';
import { CLEANING } from '$core/document/takes';
import { restValue } from '$core/document/rest';
import { LEVEL_RATE, soundLevel } from '$core/takes/sound-level';
import { addresses } from '$lib/api/client';
import type { Session } from '$lib/session/session.svelte';
import { secondsToTicks } from '$player/time';
import type { Recorder } from './recorder.svelte';
import { keepTakes } from './takes';
import { takeWorkOf } from './take-work.svelte';

/** Records the first driven number by the level of the clip's sound, all at once. */
export async function recordSound(session: Session, recorder: Recorder): Promise<void> {
	const { clip } = session;
	const column = recorder.driven.across;
	if (recorder.why !== null || !clip?.sound || !column) {
		toast.error(recorder.why ?? 'The clip has no sound: put one in on its card.');
		return;
	}
	const { sound } = clip;
	const context = new AudioContext();
	try {
		const response = await fetch(addresses.asset(session.project.id, sound.asset));
		if (!response.ok) throw new Error(response.statusText);
		const decoded = await context.decodeAudioData(await response.arrayBuffer());
		const levels = soundLevel(decoded.getChannelData(0), decoded.sampleRate);
		const base = restValue(session.doc.parts[column.part], column.property, column.component);
		const reach = recorder.reachOf('across');
		const seen = [...levels]
			.map((level, i) => ({ t: sound.begins + secondsToTicks(i / LEVEL_RATE), v: base + level * reach }))
			.filter(({ t }) => t >= 0 && t <= clip.length);
		if (seen.length < 2) {
			toast.error('The sound is not heard within the clip');
			return;
		}
		const id = await keepTakes(session, {
			clip: clip.id,
			columns: [column],
			// What is loud all of a sudden is no spike.
			cleaning: { ...CLEANING, spikes: false, smoothing: 'none' },
			rounds: [
				{
					times: Uint32Array.from(seen, ({ t }) => t),
					columns: [Float32Array.from(seen, ({ v }) => v)],
				},
			],
		});
		if (id !== null) void takeWorkOf(session).open(id);
	} catch {
		toast.error(`The sound ${sound.name} cannot be read`);
	} finally {
		void context.close();
	}
}

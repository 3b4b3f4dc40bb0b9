/** A short click, to count by. */
const LASTS = 0.06;

export function soundClick(context: AudioContext, hertz: number): void {
	const [tone, gain] = [context.createOscillator(), context.createGain()];
	const now = context.currentTime;
	tone.frequency.value = hertz;
	gain.gain.setValueAtTime(0.2, now);
	gain.gain.exponentialRampToValueAtTime(0.001, now + LASTS);
	tone.connect(gain).connect(context.destination);
	tone.start(now);
	tone.stop(now + LASTS);
}

/** How far origins of parts are off in the world, gathered look by look: anywhere, and where they stand still. */
import type { Matrix } from '../pose/matrix';
import type { OriginError } from './report';

/** What an origin may move by and still stand, in the units of a format's space (metres, and pixels by a hundred). */
const STANDS = 1e-4;
/** For how long it stands, in seconds, to be a contact: a turning point is none, and no slow arrival. */
const CONTACT = 0.2;
/** Below this it is the reader's rounding, and no slide. */
const ROUNDING = 1e-5;

/** Where an origin began to stand, as meant and as read. */
interface Stand {
	truth: readonly number[];
	read: readonly number[];
	since: number;
}

const placeIn = (matrix: Matrix) => [matrix[12], matrix[13], matrix[14]];
const gap = (a: readonly number[], b: readonly number[]) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** The worst of several clips; nothing where nothing is off. */
export interface OriginErrors {
	/** The farthest that an origin is off. */
	origin: OriginError | null;
	/** The farthest that one slides while it should stand: a foot on the ground, a hand on a rail. */
	contact: OriginError | null;
}

export const NO_ORIGIN_ERRORS: OriginErrors = { origin: null, contact: null };

function worse(a: OriginError | null, b: OriginError | null): OriginError | null {
	return (b?.error ?? 0) > (a?.error ?? 0) ? b : a;
}

export function worseOrigins(a: OriginErrors, b: OriginErrors): OriginErrors {
	return { origin: worse(a.origin, b.origin), contact: worse(a.contact, b.contact) };
}

/** Gathers the errors of one clip, looked at forwards. */
export class OriginWatch {
	found: OriginErrors = NO_ORIGIN_ERRORS;
	private readonly stands = new Map<string, Stand>();

	/** `unit`: of the project, in that of the matrices. `space` scales what counts as standing to theirs. */
	constructor(
		private readonly clip: string,
		private readonly unit: number,
		private readonly space = 1,
	) {}

	/** An origin at a time, in the world as meant and as read. */
	look(part: { id: string; name: string }, seconds: number, meant: Matrix, played: Matrix): void {
		const [truth, read] = [placeIn(meant), placeIn(played)];
		const tell = (error: number): OriginError => ({
			part: part.name,
			clip: this.clip,
			error: error / this.unit,
			seconds,
		});
		let { origin, contact } = this.found;
		origin = worse(origin, tell(gap(truth, read)));
		const stand = this.stands.get(part.id);
		if (!stand || gap(stand.truth, truth) > STANDS * this.space)
			this.stands.set(part.id, { truth, read, since: seconds });
		else if (seconds - stand.since >= CONTACT) {
			const slide = gap(stand.read, read) - gap(stand.truth, truth);
			if (slide > ROUNDING * this.space) contact = worse(contact, tell(slide));
		}
		this.found = { origin, contact };
	}
}

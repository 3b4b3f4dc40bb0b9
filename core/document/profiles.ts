/** Profiles: how clips leave, as a project keeps it. */

/** A way in which clips leave, kept under a name: for Ship and for builds. */
export interface Profile {
	type: 'profile';
	id: string;
	order: string;
	name: string;
	/** The id of a format. */
	target: string;
	/** Ids of clips; null for all of the project, those to come, too. */
	clips: readonly string[] | null;
	/** As `Bounds` has them. */
	bounds: Readonly<{
		relative: number;
		translation?: number;
		rotation?: number;
		scale?: number;
		parts?: Readonly<Record<string, Readonly<Record<string, number>>>>;
	}>;
	/** Switches and numbers of the format that are set, by their ids. */
	choices: Readonly<Record<string, boolean | number>>;
}

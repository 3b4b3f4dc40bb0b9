/** What came of a damaged database, as the page of all projects tells it. */

/** How a project came out of it: whole, without its history, from a backup of a time, or not at all. */
export interface MendedProject {
	name: string;
	how: 'whole' | 'without history' | 'from a backup' | 'lost';
	/** When the backup was made, as ISO 8601. */
	madeAt?: string;
	/** How many of its pictures, films, sounds and models are gone. */
	lostFiles?: number;
}

export interface Mended {
	projects: MendedProject[];
	/** Whether the list of projects could be read whole: there may have been others. */
	isListed: boolean;
	/** The damaged file. */
	kept: string;
}

/** Dates as they stand everywhere: 28 Nov 2026, 14:11. Without a zone, the reader's own. */
export const dateAndTime = (timeZone?: string) =>
	new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short', timeZone });
export const dateAlone = (timeZone?: string) =>
	new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeZone });

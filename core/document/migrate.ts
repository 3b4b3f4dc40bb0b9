/** Brings project files of older versions up to the one that is read and written now. */

/** Version of the project file. */
export const VERSION = 4;

/** Steps from each version to the next, by the version that they start from. */
const STEPS: Readonly<Record<number, (file: Record<string, unknown>) => Record<string, unknown>>> = {
	// Formulas came with version 2.
	1: (file) => ({ ...file, formulas: {} }),
	// Blends and shapes of one's own came with version 3.
	2: (file) => ({ ...file, blends: {}, shapes: {} }),
	// Models, cameras, strokes and channels of drawings came with version 4: nothing older is different.
	3: (file) => file,
};

/** A file in the current version. What is no file, or of a version that is not known, is given back as it is. */
export function migrateDocument(value: unknown): unknown {
	if (typeof value !== 'object' || value === null || Array.isArray(value)) return value;
	let file = value as Record<string, unknown>;
	for (let from = file.version; typeof from === 'number' && Object.hasOwn(STEPS, from); from = file.version) {
		file = { ...STEPS[from](file), version: from + 1 };
	}
	return file;
}

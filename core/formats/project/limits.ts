/** How large a project may be: what is saved within these is read back. */

const MEGABYTE = 1024 * 1024;

/** Largest project file, in characters: that of a project with a million keys fits. */
export const MAX_FILE_LENGTH = 128 * MEGABYTE;
/** Most keys that come in from other formats at once. */
export const MOST_KEYS = 1_000_000;
/** Bytes of all pictures, films, sounds, models and takes of a project. */
export const MOST_ASSET_BYTES = 256 * MEGABYTE;
/** Bytes of all that a pack may unfold to: the project's file with the files it refers to. */
export const MOST_PACK_BYTES = MAX_FILE_LENGTH + MOST_ASSET_BYTES;

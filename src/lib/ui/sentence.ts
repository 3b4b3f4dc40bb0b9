/** A name as it stands on a label: with a capital. */
export const sentence = (name: string) => name.charAt(0).toUpperCase() + name.slice(1);

/** Texts that the build has made, as they are. */
declare module '*.json?raw' {
	const text: string;
	export default text;
}

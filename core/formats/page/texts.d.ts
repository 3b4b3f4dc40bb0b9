/** Texts that the build has made, as they are. */
declare module '*.json?raw' {
	const text: string;
	// eslint-disable-next-line no-restricted-exports -- as the bundler gives them
	export default text;
}

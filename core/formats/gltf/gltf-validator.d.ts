declare module 'gltf-validator' {
	interface Report {
		/** Severity 0 is an error, 1 a warning. */
		issues: {
			numErrors: number;
			messages: { severity: number; code: string; message: string; pointer?: string }[];
		};
		info: { animationCount: number };
	}
	interface Options {
		/** Gives what the file refers to. */
		externalResourceFunction?: (uri: string) => Promise<Uint8Array>;
	}
	const validator: { validateBytes(bytes: Uint8Array, options?: Options): Promise<Report> };
	export default validator;
}

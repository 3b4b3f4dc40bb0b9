declare module 'gltf-validator' {
	interface Report {
		/** Severity 0 is an error, 1 a warning. */
		issues: {
			numErrors: number;
			messages: { severity: number; code: string; message: string; pointer?: string }[];
		};
		info: { animationCount: number };
	}
	const validator: { validateBytes(bytes: Uint8Array): Promise<Report> };
	export default validator;
}

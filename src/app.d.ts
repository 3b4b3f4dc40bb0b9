declare global {
	namespace App {
		interface Error {
			message: string;
			detail?: string;
		}
	}
}
export {};

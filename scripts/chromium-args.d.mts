export declare const CHROMIUM_ARGS: string[];

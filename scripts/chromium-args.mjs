/** How Chromium is started where there is no screen and no network. */
export const CHROMIUM_ARGS = [
	'--no-sandbox',
	'--disable-quic',
	'--no-first-run',
	'--disable-background-networking',
	'--disable-component-update',
	'--disable-sync',
];

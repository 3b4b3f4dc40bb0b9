/** The access token of a server that others can reach: asked for once, kept in a cookie, and not to be guessed at. */
import { timingSafeEqual } from 'node:crypto';
import type { RequestEvent } from '@sveltejs/kit';
import { ApiError, problemResponse } from './problem';

const TOKEN_COOKIE = 'hillock_token';
const COOKIE_SECONDS = 30 * 24 * 3600;
/** Each wrong token is answered later than the one before, until nobody has tried for a while. */
const FIRST_DELAY_MS = 250;
const MOST_DELAY_MS = 4000;
const FORGIVEN_MS = 60_000;

let wrong = 0;
let lastWrong = 0;

function sameText(a: string, b: string): boolean {
	const [x, y] = [Buffer.from(a), Buffer.from(b)];
	return x.length === y.length && timingSafeEqual(x, y);
}

async function slowDown(): Promise<void> {
	if (Date.now() - lastWrong > FORGIVEN_MS) wrong = 0;
	lastWrong = Date.now();
	const delay = Math.min(MOST_DELAY_MS, FIRST_DELAY_MS * 2 ** wrong++);
	await new Promise((resolve) => setTimeout(resolve, delay));
}

/** The page on which a token is entered. */
function tokenPage(isWrong: boolean): Response {
	const page = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Hillock: access token</title>
<style>
:root { color-scheme: light dark }
body { margin: 15vh auto; max-width: 320px; padding: 0 16px; font: 16px/1.5 system-ui, sans-serif }
label, input, button { display: block; width: 100%; box-sizing: border-box; font: inherit }
input, button { min-height: 40px; margin-top: 8px }
</style>
</head>
<body>
<h1>Hillock</h1>
<form method="get">
<label for="token">The access token that the server was started with</label>
<input id="token" name="token" type="password" autocomplete="current-password" required autofocus>
<p role="alert">${isWrong ? 'That was not it.' : ''}</p>
<button>Open</button>
</form>
</body>
</html>
`;
	return new Response(page, {
		status: 401,
		headers: {
			'content-type': 'text/html; charset=utf-8',
			'cache-control': 'no-store',
			'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'",
		},
	});
}

/** The address here without its token, which would stand in the history and be copied along. */
function withoutToken(url: URL): string {
	const clean = new URL(url);
	clean.searchParams.delete('token');
	// Two slashes would lead to another site.
	return clean.pathname.replace(/^\/+/, '/') + clean.search;
}

/**
 * The answer to a request that comes without the token, or with it in its address, where a cookie takes it over; null for one
 * that is to be served.
 */
export async function askForToken(event: RequestEvent, token: string): Promise<Response | null> {
	const { request, url, cookies } = event;
	const inAddress = url.searchParams.get('token');
	const given =
		request.headers.get('authorization')?.replace(/^Bearer /, '') ?? inAddress ?? cookies.get(TOKEN_COOKIE);
	const isPage = request.method === 'GET' && (request.headers.get('accept') ?? '').includes('text/html');
	if (given === undefined || !sameText(given, token)) {
		if (given !== undefined) await slowDown();
		if (isPage) return tokenPage(inAddress !== null);
		return problemResponse(
			new ApiError('token-needed', 'Open the address that the server printed, with its token.'),
		);
	}
	if (inAddress === null) return null;
	const kept = {
		path: '/',
		httpOnly: true,
		sameSite: 'strict',
		secure: url.protocol === 'https:',
		maxAge: COOKIE_SECONDS,
	} as const;
	cookies.set(TOKEN_COOKIE, token, kept);
	if (!isPage) return null;
	// An answer that is made here carries its cookies itself.
	const header = cookies.serialize(TOKEN_COOKIE, token, kept);
	return new Response(null, { status: 303, headers: { location: withoutToken(url), 'set-cookie': header } });
}

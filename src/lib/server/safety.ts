/** Who may talk to this server: known host names only, writes from its own pages only, a token when there is one. */
import type { RequestEvent } from '@sveltejs/kit';
import { ApiError, problemResponse } from './problem';
import { askForToken } from './token';

const LOCAL_NAMES = ['localhost', '127.0.0.1', '[::1]'];

function hostName(host: string): string {
	return host.replace(/:\d+$/, '').toLowerCase();
}

/** A page of another site that resolves to this machine sends its own name in Host (DNS rebinding). */
function isKnownHost(host: string | null): boolean {
	const allowed = (process.env.HILLOCK_HOSTS ?? '').split(',').filter(Boolean);
	return host !== null && [...LOCAL_NAMES, ...allowed].includes(hostName(host));
}

function isForeignWrite(request: Request, host: string): boolean {
	if (request.method === 'GET' || request.method === 'HEAD') return false;
	const origin = request.headers.get('origin');
	if (origin !== null) return !URL.canParse(origin) || new URL(origin).host !== host;
	const site = request.headers.get('sec-fetch-site');
	return site !== null && site !== 'same-origin' && site !== 'none';
}

/** What other sites may read, where the server was told so: what a running game follows. */
const FOLLOWED = ['/api/projects/[project]/clips.json', '/api/projects/[project]/live'];

/** Lets a page of a named origin read what may be followed. */
export function allowFollowing({ request, route }: RequestEvent, response: Response): void {
	if (route.id === null || !FOLLOWED.includes(route.id)) return;
	response.headers.append('vary', 'origin');
	const origin = request.headers.get('origin');
	const allowed = (process.env.HILLOCK_ORIGINS ?? '').split(',').filter(Boolean);
	if (origin === null || !allowed.includes(origin)) return;
	response.headers.set('access-control-allow-origin', origin);
	response.headers.set('access-control-expose-headers', 'etag');
}

/** The refusal of a request that must not be served, or null. */
export async function refuseStrangers(event: RequestEvent): Promise<Response | null> {
	const host = event.request.headers.get('host');
	if (!isKnownHost(host)) {
		return problemResponse(
			new ApiError('forbidden-host', `Hillock does not answer to the name "${host ?? ''}".`),
		);
	}
	if (isForeignWrite(event.request, host!)) {
		return problemResponse(new ApiError('foreign-origin', 'The request comes from another site.'));
	}
	const token = process.env.HILLOCK_TOKEN;
	return token ? askForToken(event, token) : null;
}

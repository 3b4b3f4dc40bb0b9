import type { Handle, HandleServerError } from '@sveltejs/kit';
import { allowFollowing, refuseStrangers } from '$lib/server/safety';
import { closeLive } from '$lib/server/live';
import { stopWork } from '$lib/server/exports/pool';
import { closeStore } from '$lib/server/store';

export const handle: Handle = async ({ event, resolve }) => {
	const refusal = await refuseStrangers(event);
	if (refusal) return refusal;
	const response = await resolve(event);
	allowFollowing(event, response);
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('referrer-policy', 'same-origin');
	response.headers.set('cross-origin-opener-policy', 'same-origin');
	response.headers.set('cross-origin-resource-policy', 'same-origin');
	const { project } = event.params;
	// The page fetches its project once its scripts run: the browser may begin at once.
	if (project && event.route.id?.startsWith('/p/'))
		response.headers.append('link', `</api/projects/${project}>; rel=preload; as=fetch; crossorigin`);
	return response;
};

export const handleError: HandleServerError = ({ error, event, status }) => {
	if (status >= 500)
		process.stderr.write(
			`${event.request.method} ${event.url.pathname}: ${String(error)}\n${error instanceof Error ? error.stack : ''}\n`,
		);
	return {
		message: status === 404 ? 'There is nothing at this address.' : 'Something went wrong on the server.',
	};
};

// A line that stays open would keep the server from stopping.
process.once('hillock:stop' as 'beforeExit', () => {
	closeLive();
	stopWork();
});
process.once('sveltekit:shutdown' as 'beforeExit', () => void closeStore());

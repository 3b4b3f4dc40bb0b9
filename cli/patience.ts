/** How long a server waits for those who send slowly, so that nobody holds its lines by saying little. */
import { createServer, type IncomingMessage, type RequestListener, type Server } from 'node:http';

export interface Patience {
	/** For the head of a request. */
	headMs: number;
	/** Between two pieces of a body. */
	silenceMs: number;
	/** How often that is looked at. */
	lookMs: number;
}

/** A line is closed within half a minute. */
export const PATIENCE: Patience = { headMs: 15_000, silenceMs: 20_000, lookMs: 5_000 };

/** Ends a request of which nothing more comes; answers may take as long as they take. */
function watchBody(request: IncomingMessage, { silenceMs, lookMs }: Patience): void {
	let read = request.socket.bytesRead;
	let since = Date.now();
	const timer = setInterval(() => {
		if (request.complete || request.destroyed) clearInterval(timer);
		else if (request.socket.bytesRead !== read) [read, since] = [request.socket.bytesRead, Date.now()];
		else if (Date.now() - since >= silenceMs) {
			clearInterval(timer);
			request.destroy();
		}
	}, lookMs).unref();
}

export function patientServer(handler: RequestListener, patience = PATIENCE): Server {
	const { headMs, lookMs } = patience;
	return createServer(
		{ headersTimeout: headMs, connectionsCheckingInterval: lookMs },
		(request, response) => {
			if (!request.complete) watchBody(request, patience);
			handler(request, response);
		},
	);
}

import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { connect } from 'node:net';
import { afterEach, expect, it } from 'vitest';
import type { Server } from 'node:http';
import { patientServer } from './patience';

let server: Server;
afterEach(() => server.closeAllConnections());

/** What a server answers to what is written on a line, piece by piece, until the line is closed. */
async function said(pieces: readonly string[], answersAfterMs = 0): Promise<string> {
	server = patientServer(
		(request, response) => {
			request.resume();
			request.on('end', () => setTimeout(() => response.end('done'), answersAfterMs));
			request.on('error', () => {});
		},
		{ headMs: 200, silenceMs: 300, lookMs: 20 },
	);
	server.listen(0, '127.0.0.1');
	await once(server, 'listening');
	const line = connect((server.address() as AddressInfo).port, '127.0.0.1');
	let text = '';
	line.on('data', (data: Buffer) => (text += data.toString()));
	line.on('error', () => {});
	const closed = once(line, 'close');
	for (const piece of pieces) {
		line.write(piece);
		await new Promise((resolve) => setTimeout(resolve, 60));
	}
	await closed;
	return text;
}
const HEAD = 'POST / HTTP/1.1\r\nHost: a\r\nConnection: close\r\nContent-Length: 6\r\n';

it('a line on which a head or a body never ends is closed', async () => {
	expect(await said([HEAD])).not.toContain('done');
	expect(await said([`${HEAD}\r\nabc`])).not.toContain('done');
});

it('who sends slowly is read, and an answer may take its time', async () => {
	expect(await said([`${HEAD}\r\n`, 'a', 'b', 'c', 'd', 'e', 'f'], 500)).toContain('done');
});

/** By which names and addresses a server is reached. */
import { hostname, networkInterfaces } from 'node:os';

const LOCAL = ['127.0.0.1', 'localhost', '::1'];
/** Listens on all addresses of the machine. */
const ANY = ['0.0.0.0', '::'];

/** Whether others can reach an address that is listened on. */
export function isOpen(host: string): boolean {
	return !LOCAL.includes(host);
}

/** As it stands in an address. */
export function inUrl(host: string): string {
	return host.includes(':') ? `[${host}]` : host;
}

/** This machine's addresses in its networks, those of the older protocol first: they are shorter to type. */
function ownAddresses(): string[] {
	const all = Object.values(networkInterfaces()).flatMap((list) => list ?? []);
	const outside = all.filter(({ internal, address }) => !internal && !address.startsWith('fe80'));
	return outside
		.sort((a, b) => (a.family === b.family ? 0 : a.family === 'IPv4' ? -1 : 1))
		.map(({ address }) => address);
}

/** The addresses at which others find a server that listens on a host; none where they cannot. */
export function outerHosts(host: string): string[] {
	if (!isOpen(host)) return [];
	return ANY.includes(host) ? ownAddresses() : [host];
}

/** The names that such a server answers to, beside the local ones, as they stand in addresses. */
export function namesOf(host: string, allowed: readonly string[]): string[] {
	const own = hostname().toLowerCase();
	const names = ANY.includes(host) ? [own, `${own}.local`] : [];
	return [...outerHosts(host).map(inUrl), ...names, ...allowed.map((name) => name.toLowerCase())];
}

import { hostname, networkInterfaces } from 'node:os';
import { describe, expect, it } from 'vitest';
import { inUrl, isOpen, namesOf, outerHosts } from './reach';

describe('where a server is reached', () => {
	const outside = Object.values(networkInterfaces())
		.flatMap((list) => list ?? [])
		.filter(({ internal, family }) => !internal && family === 'IPv4')
		.map(({ address }) => address);

	it('is nowhere from outside for one that listens here alone', () => {
		for (const host of ['127.0.0.1', 'localhost', '::1'])
			expect([isOpen(host), outerHosts(host), namesOf(host, [])]).toEqual([false, [], []]);
	});

	it('is at all addresses of the machine, and by its name, for one that listens on all', () => {
		expect(outerHosts('0.0.0.0')).toEqual(expect.arrayContaining(outside));
		expect(namesOf('0.0.0.0', ['Tide.example'])).toEqual(
			expect.arrayContaining([...outside, hostname().toLowerCase(), 'tide.example']),
		);
		expect(outerHosts('0.0.0.0')).not.toContain('127.0.0.1');
	});

	it('is at the address that was chosen', () => {
		expect(outerHosts('192.168.0.5')).toEqual(['192.168.0.5']);
		expect([inUrl('2001:db8::1'), namesOf('2001:db8::1', [])]).toEqual(['[2001:db8::1]', ['[2001:db8::1]']]);
	});
});

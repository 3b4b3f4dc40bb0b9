import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { execFileSync } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import { readZip, type ZipLimits } from './zip';

const LIMITS: ZipLimits = { wants: () => true, mostBytes: 1 << 20, mostFiles: 10 };
const read = (bytes: Uint8Array, limits: Partial<ZipLimits> = {}) => readZip(bytes, { ...LIMITS, ...limits });
const messageOf = (bytes: Uint8Array, limits: Partial<ZipLimits> = {}) => {
	const result = read(bytes, limits);
	return result.ok ? 'read' : result.problems[0].message;
};
const noise = Uint8Array.from({ length: 400 }, (_, i) => (i * i * 7919) >> 3);
const small = () =>
	zipSync({ 'a.txt': strToU8('hop, hop, hop, hop, hop, hop'), 'b/ü.bin': [noise, { level: 0 }] });
/** A zip file whose list says something else of its first file. */
function lying(zip: Uint8Array, offset: number, value: number): Uint8Array {
	const copy = zip.slice();
	const view = new DataView(copy.buffer);
	const list = view.getUint32(copy.length - 22 + 16, true);
	view.setUint32(list + offset, value, true);
	return copy;
}

describe('a zip file', () => {
	it('is read with what is packed and what is only stored, whoever wrote it', () => {
		const result = read(small());
		expect(result.ok && [...result.value]).toEqual([
			['a.txt', strToU8('hop, hop, hop, hop, hop, hop')],
			['b/ü.bin', noise],
		]);
		// Sizes behind the contents, as those write who do not know them before.
		const script = `
import sys, zipfile
class Pipe:
    def write(self, data): return sys.stdout.buffer.write(data)
    def flush(self): sys.stdout.buffer.flush()
with zipfile.ZipFile(Pipe(), 'w', zipfile.ZIP_DEFLATED) as z:
    z.writestr('a.txt', 'hop ' * 5000); z.comment = b'PK'`;
		const theirs = read(execFileSync('python3', ['-c', script]));
		expect(theirs.ok && theirs.value.get('a.txt')).toEqual(strToU8('hop '.repeat(5000)));
	});

	it('with any byte turned is refused, or says the same', () => {
		const zip = small();
		const whole = read(zip);
		let refused = 0;
		fc.assert(
			fc.property(fc.nat(zip.length - 1), fc.integer({ min: 1, max: 255 }), (at, turn) => {
				const copy = zip.slice();
				copy[at] ^= turn;
				const result = read(copy);
				if (!result.ok) refused++;
				else
					expect([...result.value.values()].map((own) => Buffer.from(own).toString('hex'))).toEqual(
						(whole as { value: Map<string, Uint8Array> }).value &&
							[...(whole as { value: Map<string, Uint8Array> }).value.values()].map((own) =>
								Buffer.from(own).toString('hex'),
							),
					);
			}),
			{ numRuns: 2000, examples: [[small().length - 12, 2]] },
		);
		expect(refused).toBeGreaterThan(800);
	});

	it('that unpacks to more than it says ends there, in no time', () => {
		const bomb = zipSync({ 'a.bin': [new Uint8Array(64 << 20), { level: 9 }] });
		expect(messageOf(bomb)).toBe('“a.bin” unpacks to more than 1 MB.');
		// It says 100 bytes: no more than a few pieces are unpacked, whatever is in it.
		expect(messageOf(lying(bomb, 24, 100))).toMatch(/“a\.bin” is damaged/);
	});

	it.each([
		['is none', strToU8('la la la'), /no zip file/],
		['is torn', small().slice(0, 200), /no zip file/],
		['lacks its beginning', small().slice(60), /torn|damaged/],
		[
			'has more files than are taken',
			zipSync(Object.fromEntries(Array.from({ length: 11 }, (_, i) => [`${i}`, noise]))),
			/11 files; 10 is the most/,
		],
		['has another checksum', lying(small(), 16, 1), /damaged/],
		['is encrypted', lying(small(), 8, 1 | (8 << 16)), /encrypted/],
		['is packed otherwise', lying(small(), 8, 12 << 16), /way that is not known/],
		['points elsewhere', lying(small(), 42, 0x00ffffff), /damaged/],
	])('that %s is refused', (_, bytes, message) => {
		expect(messageOf(bytes)).toMatch(message);
	});

	it('is read no further than it is wanted', () => {
		const result = read(lying(small(), 16, 1), { wants: (name) => name.startsWith('b/') });
		expect(result.ok && [...result.value.keys()]).toEqual(['b/ü.bin']);
		expect(messageOf(small(), { mostOf: (name) => (name === 'a.txt' ? 10 : 1e6) })).toMatch(
			/“a\.txt” unpacks/,
		);
	});
});

import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { MAX_STILL_BYTES } from '../../core/picture/still-header.ts';
import { Stills } from './stills.ts';

const PNG = Buffer.from('\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\0\x40\0\0\0\x24 and the rest', 'latin1');
let folder: string;
let stills: Stills;

beforeAll(async () => {
	folder = await mkdtemp(path.join(tmpdir(), 'bivvo-stills-'));
	stills = new Stills(folder);
});
afterAll(() => rm(folder, { recursive: true }));

describe('stills', () => {
	it('are kept once, also when two give the same at once, and come back byte for byte', async () => {
		const ids = await Promise.all([1, 2, 3].map(() => stills.keep('lantern-night', PNG)));
		expect(new Set(ids).size).toBe(1);
		expect(await readdir(path.join(folder, 'lantern-night'))).toEqual([ids[0]]);
		expect(await stills.read('lantern-night', ids[0]!)).toEqual({ bytes: PNG, type: 'image/png' });
		expect(await stills.read('lantern-night', 'nothing')).toBeNull();
	});

	it('fill an event up to a limit, and no other', async () => {
		const few = new Stills(folder, 2.5 * PNG.length);
		const other = (n: number) => Buffer.concat([PNG.subarray(0, -1), Buffer.from([n])]);
		for (const n of [1, 2]) await few.keep('full', other(n));
		await expect(few.keep('full', other(3))).rejects.toThrow('as many pictures as can be kept');
		expect(await readdir(path.join(folder, 'full'))).toHaveLength(2);
		await few.keep('empty', other(3));
	});

	it('are refused with a sentence when they are none, too large, or cannot be written', async () => {
		const keep = (bytes: Buffer, event = 'lantern-night') => stills.keep(event, bytes);
		await expect(keep(Buffer.from('<svg onload="alert(1)"/>'))).rejects.toThrow('not a picture that can be read');
		await expect(keep(Buffer.concat([PNG, Buffer.alloc(MAX_STILL_BYTES)]))).rejects.toThrow('25 MB is the most');
		const wide = Buffer.from(PNG);
		wide.writeUInt32BE(20_000, 16);
		await expect(keep(wide)).rejects.toThrow('8192 pixels a side is the most');
		await writeFile(path.join(folder, 'in-the-way'), '');
		await expect(keep(PNG, 'in-the-way')).rejects.toThrow(/^The picture cannot be kept \(E[A-Z]+\)\.$/);
	});
});

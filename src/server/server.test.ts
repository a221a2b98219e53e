import { randomBytes } from 'node:crypto';
import { mkdtemp, readFile, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { openKeyFile, seal, unseal } from './access/secrets.ts';
import { fileNameOf } from './broadcast/file-names.ts';

describe('secrets at rest', () => {
	it('can be read with their key only, and not at all when changed', () => {
		const key = randomBytes(32);
		const sealed = seal(key, 'ridge-lantern-1845', 'ridge');
		expect(unseal(key, sealed, 'ridge')).toBe('ridge-lantern-1845');
		expect(seal(key, 'ridge-lantern-1845', 'ridge')).not.toBe(sealed);
		expect(Buffer.from(sealed.slice(2), 'base64').toString('latin1')).not.toContain('lantern');
		expect(() => unseal(randomBytes(32), sealed, 'ridge')).toThrow();
		// What was typed for one host opens for no other.
		expect(() => unseal(key, sealed, 'valley')).toThrow();
		expect(() => unseal(key, sealed.slice(2), 'ridge')).toThrow();
		const bytes = Buffer.from(sealed.slice(2), 'base64');
		bytes[20]! ^= 1;
		expect(() => unseal(key, `b.${bytes.toString('base64')}`, 'ridge')).toThrow();
	});

	it('have their key in a file for this user alone, made once', async () => {
		const folder = await mkdtemp(path.join(tmpdir(), 'bivvo-key-'));
		const key = await openKeyFile(folder);
		expect(await openKeyFile(folder)).toEqual(key);
		const file = path.join(folder, 'secret.key');
		expect((await stat(file)).mode & 0o777).toBe(0o600);
		await writeFile(file, (await readFile(file, 'utf8')).slice(4));
		await expect(openKeyFile(folder)).rejects.toThrow('is damaged');
	});
});

describe('a recording’s file name', () => {
	it.each([
		['Lantern Night', 'lantern-night'],
		['../../etc/passwd', 'etc-passwd'],
		['Fête au Col', 'fete-au-col'],
		['夜', 'event'],
		['-rf /', 'rf'],
	])('of %j holds nothing but letters, digits and dashes', (title, plain) => {
		expect(fileNameOf(title, Date.UTC(2026, 10, 28, 18, 45, 1))).toBe(`${plain}-2026-11-28-184501`);
	});
});

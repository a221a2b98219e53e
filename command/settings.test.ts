import { spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import net, { type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { lockFolder, needFolder, needFreePort, putAside, settings } from './settings.mjs';

describe('starting where it cannot', () => {
	it('names the port that is in use and the variable that chooses another', async () => {
		const other = net.createServer().listen(0, '127.0.0.1');
		await new Promise((resolve) => other.once('listening', resolve));
		const { port } = other.address() as AddressInfo;
		await expect(needFreePort(port, 'BIVVO_PORT')).rejects.toThrow(
			`Port ${port} is in use by another program. Close it, or choose another port with BIVVO_PORT=…`,
		);
		other.close();
	});

	it('names a folder that cannot be written', () => {
		expect(() => needFolder('/dev/null/data')).toThrow('/dev/null/data cannot be written');
	});

	it('refuses a port that is none', () => {
		expect(() => settings({ BIVVO_DB_PORT: 'many' })).toThrow('BIVVO_DB_PORT is many, which is no port');
		expect(settings({ BIVVO_PORT: '6000' })).toMatchObject({ port: 6000, databasePort: null });
	});
});

describe('the data folder', () => {
	const inFolder = async (use: (data: string) => Promise<void> | void) => {
		const folder = mkdtempSync(path.join(tmpdir(), 'bivvo-data-'));
		await Promise.resolve(use(path.join(folder, 'data'))).finally(() => rmSync(folder, { recursive: true }));
	};

	it('is put aside whole when somebody starts over, and never deleted', () =>
		inFolder((data) => {
			expect(putAside(data)).toBeNull();
			needFolder(data);
			writeFileSync(path.join(data, 'evening'), 'recorded');
			const aside = putAside(data)!;
			expect(readdirSync(aside).sort()).toEqual(['bivvo-data', 'evening']);
			expect(existsSync(data)).toBe(false);
		}));

	it('is closed to other users, also one that was made before', () =>
		inFolder((data) => {
			needFolder(data);
			chmodSync(data, 0o755);
			needFolder(data);
			expect(statSync(data).mode & 0o777).toBe(0o710);
		}));

	it('of something else is left alone', () =>
		inFolder((data) => {
			writeFileSync(path.join(path.dirname(data), 'letters'), 'mine');
			expect(() => putAside(path.dirname(data))).toThrow('holds something else');
			needFolder(path.dirname(data));
			expect(() => putAside(path.dirname(data))).toThrow('holds something else');
		}));

	it('is for one at a time, unless that one was killed', () =>
		inFolder(async (data) => {
			needFolder(data);
			const lock = lockFolder(data);
			await lock.stop();
			const other = spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000) // bivvo'], { stdio: 'ignore' });
			await new Promise((resolve) => other.once('spawn', resolve));
			writeFileSync(path.join(data, 'in-use'), String(other.pid));
			expect(() => lockFolder(data)).toThrow(`process ${other.pid}`);
			other.kill('SIGKILL');
			await new Promise((resolve) => other.once('exit', resolve));
			await lockFolder(data).stop();
			expect(existsSync(path.join(data, 'in-use'))).toBe(false);
		}));
});

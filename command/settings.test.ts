import net, { type AddressInfo } from 'node:net';
import { describe, expect, it } from 'vitest';
import { needFolder, needFreePort, settings } from './settings.mjs';

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
		expect(settings({ BIVVO_PORT: '6000' })).toMatchObject({ port: 6000, databasePort: 5312 });
	});
});

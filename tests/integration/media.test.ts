import { randomBytes } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { Upload } from 'tus-js-client';
import { inArray } from 'drizzle-orm';
import { addingClip } from '../../src/core/media/adding.ts';
import type { MediaAbout } from '../../src/core/media/media.ts';
import { batchOf } from '../../src/core/show/command.ts';
import { media } from '../../src/server/db/schema.ts';
import { createEvent } from '../../src/server/events.ts';
import { UPLOAD_PATH } from '../../src/server/files/media-library.ts';
import { openApp, testFolder, until } from '../support/app.ts';

let folder: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;
let uploads: http.Server;
let port = 0;

async function start(): Promise<void> {
	running = await openApp(inject('databaseUrl'), folder.folder);
	uploads = http.createServer((request, response) => void running.app.media.uploads.handle(request, response));
	await new Promise<void>((resolve) => uploads.listen(port, '127.0.0.1', resolve));
	({ port } = uploads.address() as AddressInfo);
}
async function stop(): Promise<void> {
	uploads.closeAllConnections();
	await new Promise((resolve) => uploads.close(resolve));
	await running.close();
}
beforeAll(async () => {
	folder = await testFolder();
	await start();
});
afterAll(async () => {
	await stop();
	await folder.remove();
});

const ABOUT = {
	kind: 'video',
	lengthMs: 12_000,
	picture: { width: 1280, height: 720, fps: 30, codec: 'avc1.64001f', alpha: false },
	sound: { codec: 'mp4a.40.2', sampleRate: 48_000, channels: 2 },
};
const CHUNK = 256 * 1024;

/** Sends a file until some of its bytes have been taken. @returns where it goes on */
function sendSome(bytes: Buffer, metadata: Record<string, string>, enough: number): Promise<string> {
	return new Promise((resolve, reject) => {
		const upload = new Upload(bytes, {
			endpoint: `http://127.0.0.1:${port}${UPLOAD_PATH}`,
			chunkSize: CHUNK,
			metadata,
			retryDelays: null,
			onError: reject,
			onChunkComplete(_, taken) {
				if (taken < enough) return;
				void upload.abort();
				resolve(upload.url!);
			},
			onSuccess: () => resolve(upload.url!),
		});
		upload.start();
	});
}

function goOn(bytes: Buffer, uploadUrl: string): Promise<{ sent: number }> {
	let first = -1;
	return new Promise((resolve, reject) => {
		new Upload(bytes, {
			endpoint: `http://127.0.0.1:${port}${UPLOAD_PATH}`,
			uploadUrl,
			chunkSize: CHUNK,
			retryDelays: null,
			onError: reject,
			onProgress: (taken) => (first = first < 0 ? taken : first),
			onSuccess: () => resolve({ sent: bytes.length - first }),
		}).start();
	});
}

const mediaNamed = async (name: string) => (await running.app.media.list()).find((each) => each.name === name);

describe('an upload', () => {
	it('goes on after a broken line and a restart of the server, and loses nothing', async () => {
		const bytes = randomBytes(5 * CHUNK + 1234);
		const metadata = { filename: 'Season on the fell.mp4', about: JSON.stringify(ABOUT), folder: 'Lantern Night' };
		const url = await sendSome(bytes, metadata, 2 * CHUNK);
		expect(await mediaNamed('Season on the fell')).toBeUndefined();
		await stop();
		await start();
		const { sent } = await goOn(bytes, url);
		// What had been taken before is not sent again.
		expect(sent).toBeLessThanOrEqual(bytes.length - 2 * CHUNK);
		const media = (await mediaNamed('Season on the fell'))!;
		expect(media).toMatchObject({ folder: 'Lantern Night', bytes: bytes.length, about: ABOUT, analysis: null });
		const found = (await running.app.media.find(media.id))!;
		expect((await readFile(found.path)).equals(bytes)).toBe(true);
	});

	it('that does not say what it is, or is too large, is refused in words', async () => {
		async function refused(length: number, metadata: Record<string, string>) {
			const entries = Object.entries(metadata).map(([name, value]) => `${name} ${btoa(value)}`);
			const headers = {
				'Tus-Resumable': '1.0.0',
				'Upload-Length': String(length),
				...(entries.length > 0 && { 'Upload-Metadata': entries.join(',') }),
			};
			const answer = await fetch(`http://127.0.0.1:${port}${UPLOAD_PATH}`, { method: 'POST', headers });
			return [answer.status, (await answer.text()).trim()];
		}
		const before = await running.app.media.list();
		const unknown = [400, 'The upload does not say what file it is.'];
		expect(await refused(10, {})).toEqual(unknown);
		expect(await refused(10, { filename: 'x.mp4', about: '{"kind":"program"}' })).toEqual(unknown);
		expect((await refused(21e9, { about: JSON.stringify(ABOUT) }))[0]).toBe(413);
		expect(await running.app.media.list()).toEqual(before);
	});
});

describe('a file of the library', () => {
	it('is changed, deleted and brought back, and takes no picture that is none', async () => {
		const { media: library } = running.app;
		const { id } = (await mediaNamed('Season on the fell'))!;
		const isListed = async () => (await library.list()).some((each) => each.id === id);
		await library.change(id, { name: 'The film', folder: '2026' });
		expect(await mediaNamed('The film')).toMatchObject({ id, folder: '2026' });
		await library.change(id, { deleted: true });
		expect(await isListed()).toBe(false);
		// An event that plays it goes on playing it.
		expect(await library.find(id)).not.toBeNull();
		await library.change(id, { deleted: false });
		expect(await isListed()).toBe(true);
		await expect(library.setPicture(id, 'poster', randomBytes(100))).rejects.toMatchObject({
			reason: { code: 'body' },
		});
		await expect(library.change('gone', { name: 'x' })).rejects.toMatchObject({ reason: { code: 'notFound' } });
	});

	it('that was deleted long ago is removed for good, unless an event plays it', async () => {
		const { app } = running;
		for (const id of ['forgotten', 'played'])
			await app.media.add({ id, name: id, folder: '', bytes: 1, about: ABOUT as MediaAbout }, (to) =>
				writeFile(to, 'x'),
			);
		const eventId = await createEvent(app, 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
		const { hub } = await app.events.owner(eventId);
		const played = (await app.media.list()).filter(({ id }) => id === 'played');
		await hub.submit({ client: 'page', role: 'owner' }, 'add', batchOf(addingClip('film', 'Film', played)));
		await app.db
			.update(media)
			.set({ deletedAt: 1 })
			.where(inArray(media.id, ['forgotten', 'played']));
		await stop();
		await start();
		await until('the old one gone', async () => (await running.app.media.find('forgotten')) === null);
		expect(await running.app.media.find('played')).not.toBeNull();
	});

	it('is found by its id only, whatever the id looks like', async () => {
		for (const id of ['../secret.key', '..', 'incoming', '']) expect(await running.app.media.find(id), id).toBeNull();
	});
});

import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { readOpenLyrics } from '../../src/core/words/formats/openlyrics.ts';
import { readPlain } from '../../src/core/words/formats/plain.ts';
import type { Song } from '../../src/core/words/song.ts';
import { openApp, testFolder } from '../support/app.ts';

let temporary: Awaited<ReturnType<typeof testFolder>>;
let running: Awaited<ReturnType<typeof openApp>>;

beforeAll(async () => {
	temporary = await testFolder();
	running = await openApp(inject('databaseUrl'), temporary.folder);
});
afterAll(async () => {
	await running.close();
	await temporary.remove();
});

const lamp = readOpenLyrics(readFileSync('standins/words/lamp-on-the-col.xml', 'utf8'));
const water = readPlain(readFileSync('standins/words/carry-the-water.txt', 'utf8'), 'Carry the Water');

it('songs are kept once, found by any line whatever the accents, changed, removed and brought back', async () => {
	const { songs } = running.app;
	const added = await songs.add(lamp);
	expect(added).toHaveProperty('id');
	const { id } = added as { id: string };
	expect(await songs.add(water)).toHaveProperty('id');
	// The same song as somebody else has typed it.
	const typed: Song = {
		...lamp,
		title: 'The lamp',
		sections: lamp.sections.map((section) => ({
			...section,
			lines: section.lines.map(([line = '']) => [line.toUpperCase().replace(',', '')]),
		})),
	};
	expect(await songs.add(typed)).toEqual({ sameAs: { id, title: 'Lamp on the Col' } });
	expect(await songs.add(typed, true)).toHaveProperty('id');

	const titles = async (search: string) => (await songs.list(search)).map(({ title }) => title);
	expect(await titles('')).toEqual(['Carry the Water', 'Lamp on the Col', 'The lamp']);
	expect(await titles('the cloud can’t hide')).toEqual(['Lamp on the Col', 'The lamp']);
	expect(await titles('YÓKE')).toEqual(['Carry the Water']);
	expect(await titles('100%_')).toEqual([]);
	expect(await titles('nobody sings this')).toEqual([]);

	await songs.put(id, { ...lamp, copyright: 'Choir of Nether Hollin' });
	expect((await songs.get(id)).copyright).toBe('Choir of Nether Hollin');
	const kept = await songs.get(id);
	await songs.remove(id);
	await expect(songs.get(id)).rejects.toMatchObject({ reason: { code: 'gone' } });
	await songs.put(id, kept);
	expect(await songs.get(id)).toEqual(kept);
	expect(await songs.all()).toHaveLength(3);
});

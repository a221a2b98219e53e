import { readFile } from 'node:fs/promises';
import { expect, test, type Page } from '@playwright/test';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { readOpenLyrics, writeOpenLyrics } from '../../src/core/words/formats/openlyrics.ts';
import type { Song } from '../../src/core/words/song.ts';
import { accessible } from '../support/accessible.ts';
import { startDemo, type Demo } from '../support/demo.ts';

let demo: Demo;
test.beforeEach(async () => void (demo = await startDemo()));
test.afterEach(() => demo.close());

const THINGS = ['cairn', 'lantern', 'spring', 'yoke', 'byre', 'scree', 'heather', 'beck', 'fold', 'larch'];
/** Made up, each with words of its own. */
function madeUp(number: number): Song {
	const of = (i: number) => THINGS[(number * 3 + i) % THINGS.length]!;
	const lines = (verse: number) =>
		[0, 1, 2, 3].map((i) => [
			`Song ${number} of the ${of(verse + i)}, the ${of(verse * i)} and number ${number * 10 + i}`,
		]);
	return {
		...{ kind: 'song', title: `Song of the ${of(0)} ${number}`, authors: ['Corin Vale'], copyright: '', licence: '' },
		...{ source: '', languages: ['en'], order: [0, 1, 0] },
		sections: [
			{ kind: 'verse', number: 1, lines: lines(1) },
			{ kind: 'chorus', number: 0, lines: lines(2) },
		],
	};
}
const songs = (page: Page) => page.getByRole('navigation', { name: 'Songs and texts' }).getByRole('listitem');
/** The demo's own, once they are there. */
async function openSongs(page: Page): Promise<number> {
	await page.goto(`${demo.url}/songs`);
	await expect(songs(page).filter({ hasText: 'Carry the Water' })).toBeVisible();
	return songs(page).count();
}
const saved = (page: Page) => expect(page.getByRole('status').filter({ hasText: /^Saved$/ })).toBeVisible();

async function drop(page: Page, files: { name: string; content: Uint8Array }[]): Promise<void> {
	const transfer = await page.evaluateHandle(
		(all) => {
			const data = new DataTransfer();
			for (const { name, content } of all) data.items.add(new File([new Uint8Array(content)], name));
			return data;
		},
		files.map(({ name, content }) => ({ name, content: [...content] })),
	);
	await page.getByRole('region', { name: 'Import files' }).dispatchEvent('drop', { dataTransfer: transfer });
}

test('thirty songs come in a zip, beside files of other kinds; one is there already, one is damaged; all go out again', async ({
	page,
}) => {
	const before = await openSongs(page);
	const thirty = Array.from({ length: 30 }, (_, i) => madeUp(i + 1));
	const zip = zipSync(
		Object.fromEntries(
			thirty.map((song, i) => [`songs/${i}.xml`, strToU8(writeOpenLyrics(song, '2026-11-28', 'Test'))]),
		),
	);
	await drop(page, [
		{ name: 'thirty.zip', content: zip },
		{ name: 'again.txt', content: await readFile('standins/words/carry-the-water.txt') },
		{ name: 'damaged.xml', content: strToU8('<song><lyrics>') },
		{ name: 'picture.png', content: new Uint8Array([137, 80, 78, 71, 0, 1]) },
		{ name: 'Wind and Wall.cho', content: strToU8('{title: Wind and Wall}\n[G]Wind on the [D]wall\n') },
	]);
	await expect(page.getByText('31 songs added')).toBeVisible();
	await expect(page.getByText('Carry the Water is much like Carry the Water, which is here already.')).toBeVisible();
	await expect(page.getByText('damaged.xml')).toBeVisible();
	await expect(page.getByText('This is not a text file')).toBeVisible();
	await page.getByRole('button', { name: 'Keep both' }).click();
	await expect(songs(page)).toHaveCount(before + 32);

	await page.getByLabel('Search title, author or a line').fill('number 173');
	await expect(songs(page)).toHaveCount(1);
	await expect(songs(page)).toContainText('Song of the');
	await page.getByLabel('Search title, author or a line').fill('');
	await expect(songs(page)).toHaveCount(before + 32);

	const [file] = await Promise.all([
		page.waitForEvent('download'),
		page.getByRole('button', { name: 'Export all' }).click(),
	]);
	const out = Object.values(unzipSync(await readFile(await file.path()))).map((xml) => readOpenLyrics(strFromU8(xml)));
	expect(out).toHaveLength(before + 32);
	for (const song of thirty) expect(out).toContainEqual(song);
});

test('a song is written, stored as one types, shown as it is cut, removed, and brought back', async ({ page }) => {
	const before = await openSongs(page);
	await page.getByRole('button', { name: 'New song' }).click();
	await expect(page.getByText('Give it a title; then it is saved.')).toBeVisible();
	await page.getByLabel('Title', { exact: true }).fill('Stone upon Stone');
	await page
		.getByLabel('Words', { exact: true })
		.fill(
			'Verse 1\nStone upon stone, the wall goes up\nand over the fell\n\nChorus\nHold, wall, hold\n\nVerse 2\nSnow on the top\n\nChorus',
		);
	await saved(page);
	const cut = page.getByRole('list', { name: 'How it is cut' });
	await expect(cut.getByRole('group', { name: 'In the hall' })).toHaveCount(4);
	await expect(cut.getByRole('group').nth(3)).toHaveText('Hold, wall, hold');

	await page.getByText('In two languages').click();
	await page.getByLabel('Words in the second language').fill('Verse 1\nStein auf Stein\n\nChorus\nHalt, Mauer, halt');
	await page.getByLabel('Order').fill('v1 c x9');
	await expect(page.getByText('There is no x9.')).toBeVisible();
	await page.getByLabel('Order').fill('v1 c c');
	await saved(page);
	await expect(cut.getByRole('group').nth(2)).toContainText('Halt, Mauer, halt');
	await accessible(page);

	await page.reload();
	await songs(page).filter({ hasText: 'Stone upon Stone' }).getByRole('button').click();
	await expect(page.getByLabel('Order')).toHaveValue('v1 c c');
	await expect(page.getByLabel('Words in the second language')).toHaveValue(/Stein auf Stein/);
	await page.getByRole('button', { name: 'Remove' }).click();
	await expect(page.getByText('Stone upon Stone is removed.')).toBeVisible();
	await expect(songs(page)).toHaveCount(before);
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(songs(page)).toHaveCount(before + 1);
});

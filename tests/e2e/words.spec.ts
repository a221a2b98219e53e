import { expect, test, type Locator, type Page } from '@playwright/test';
import { accessible } from '../support/accessible.ts';
import { until } from '../support/app.ts';
import { startDemo, type Demo } from '../support/demo.ts';
import { difference, frames, part } from '../support/see.ts';

const EVENT = 'lantern-night';
/** Where words stand for viewers, in small pictures. */
const FOOT = { x: 10, y: 28, width: 44, height: 7 };

let demo: Demo;
test.beforeEach(async () => void (demo = await startDemo()));
test.afterEach(() => demo.close());

async function openEvent(page: Page, what: string): Promise<Page> {
	const opened = what === '' ? page : await page.context().newPage();
	opened.on('dialog', (dialog) => void dialog.accept());
	await opened.goto(`${demo.url}/events/${EVENT}${what}`);
	return opened;
}
async function addSong(page: Page, search: string, title: string): Promise<void> {
	await page.getByRole('button', { name: 'Add from the library' }).click();
	await page.getByLabel('Search title or line').fill(search);
	await page.getByRole('button', { name: `+ ${title}` }).click();
	await expect(page.locator('[data-words]').filter({ hasText: title })).toBeVisible();
	await page.getByRole('button', { name: 'Done' }).click();
}
/** All rows of words, one after another. */
const rowsOf = (place: Locator) => async () => (await place.locator('p').allTextContents()).join(' ');
const hallOf = (page: Page) => expect.poll(rowsOf(page.getByRole('main')));
const stageOf = (page: Page, region: 'Now' | 'Next') => expect.poll(rowsOf(page.getByRole('region', { name: region })));

/** Pictures at the host that were made after what was done before. */
async function seenBy(before: number): Promise<number> {
	const { pictures } = await demo.place('ridge');
	await until('seconds of pictures', async () => (await demo.place('ridge')).pictures > pictures + 130);
	return pictures - before + 120;
}

test('one press moves hall, stage and the stream together; each is blanked by itself; a typo is corrected while it stands', async ({
	page,
}) => {
	test.slow();
	const desk = await openEvent(page, '');
	await expect(
		desk
			.locator('[data-source="lectern"]')
			.or(desk.getByLabel('On air', { exact: true }))
			.first(),
	).toBeVisible();
	const words = await openEvent(page, '/words');
	await addSong(words, 'cloud can’t hide', 'Lamp on the Col');
	await addSong(words, 'yoke', 'Carry the Water');
	await words.locator('[data-words]').filter({ hasText: 'Lamp on the Col' }).getByRole('button').first().click();
	const [hall, stage] = [await openEvent(page, '/hall'), await openEvent(page, '/stage')];
	await stageOf(stage, 'Next').toContain('When evening comes down');
	await hallOf(hall).toBe('');

	// A card that stands still, so that only words change its foot.
	await desk.bringToFront();
	await words.getByRole('button', { name: 'Take Starting soon' }).click();
	const before = (await demo.place('ridge')).pictures;
	await desk.getByRole('button', { name: 'Go on air' }).click();
	await desk.getByRole('dialog').getByRole('button', { name: 'Go on air' }).click();
	await until('pictures at the host', async () => (await demo.place('ridge')).pictures > before);
	const without = await seenBy(before);

	await words.bringToFront();
	await words.keyboard.press('Space');
	await hallOf(hall).toContain('When evening comes down on the high grey stone,');
	await hallOf(hall).toContain('it was lit by hands that have climbed and gone.');
	await stageOf(stage, 'Now').toContain('and the path goes dark');
	const first = await seenBy(before);
	await words.keyboard.press('ArrowRight');
	await stageOf(stage, 'Now').toContain('there is one small flame');
	const second = await seenBy(before);

	// A letter jumps to the chorus; a part is left out and sung again; the line before comes back.
	await words.keyboard.press('c');
	await hallOf(hall).toContain('Lamp on the col, burn low, burn long,');
	await words.keyboard.press('PageUp');
	await stageOf(stage, 'Now').toContain('there is one small flame');
	await words.getByRole('button', { name: 'This part again' }).click();
	await stageOf(stage, 'Now').toContain('When evening comes down');
	await words.getByRole('button', { name: 'To the next part' }).click();
	await hallOf(hall).toContain('Lamp on the col, burn low, burn long,');
	await words.keyboard.press('ArrowLeft');
	await stageOf(stage, 'Now').toContain('there is one small flame');

	await words.getByRole('button', { name: 'Hide from viewers' }).click();
	await expect(words.getByText('Viewers see no words')).toBeVisible();
	await hallOf(hall).toContain('it was lit by hands');
	const hidden = await seenBy(before);
	await words.getByRole('button', { name: 'Show to viewers' }).click();
	await words.getByRole('button', { name: 'Blank the hall' }).click();
	await hallOf(hall).toBe('');
	await words.getByRole('button', { name: 'Words in the hall' }).click();

	await words.getByRole('button', { name: 'Correct these words' }).click();
	const text = words.getByRole('textbox', { name: 'Words', exact: true });
	await text.fill((await text.inputValue()).replace('climbed and gone', 'come and gone'));
	await hallOf(hall).toContain('it was lit by hands that have come and gone.');
	await words.getByRole('region', { name: 'All lines' }).getByRole('button', { name: 'Done' }).click();

	await desk.bringToFront();
	await desk.getByRole('button', { name: 'End the broadcast' }).click();
	await desk.getByRole('dialog').getByRole('button', { name: 'End the broadcast' }).click();
	await until('the end at the host', async () => (await demo.place('ridge')).state === 'ended');
	const seen = await frames(await demo.received('ridge'));
	const foot = (index: number) => part(seen[index]!.luma, FOOT);
	expect(difference(foot(without), foot(first))).toBeGreaterThan(5);
	expect(difference(foot(first), foot(second))).toBeGreaterThan(2);
	expect(difference(foot(without), foot(hidden))).toBeLessThan(1);
});

test('words, hall and stage have nothing that automatic accessibility checks object to, and outlive the server', async ({
	page,
}) => {
	const words = await openEvent(page, '/words');
	await expect(words.getByText('Nothing to sing yet. Take songs from the library.').first()).toBeVisible();
	await addSong(words, '', 'Lamp on the Col');
	await words.keyboard.press('Space');
	const [hall, stage] = [await openEvent(page, '/hall'), await openEvent(page, '/stage')];
	await hallOf(hall).toContain('When evening comes down');
	await stageOf(stage, 'Now').toContain('When evening comes down');
	for (const shown of [words, hall, stage]) {
		await accessible(shown);
	}
	await demo.crashServer();
	await hallOf(hall).toContain('When evening comes down');
	await words.bringToFront();
	await expect(words.getByText('Connection lost.')).toHaveCount(0);
	await words.keyboard.press('Space');
	await hallOf(hall).toContain('it was lit by hands');
	await stageOf(stage, 'Now').toContain('there is one small flame');

	// Done by a server that could not write it, and is gone with it.
	process.kill(demo.databasePid, 'SIGSTOP');
	await words.keyboard.press('Space');
	await hallOf(hall).toContain('Lamp on the col, burn low');
	await demo.crashServer(() => process.kill(demo.databasePid, 'SIGCONT'));
	await expect(words.getByText('Connection lost.')).toHaveCount(0);
	await hallOf(hall).toContain('Lamp on the col, burn low');
	const later = await openEvent(page, '/hall');
	await hallOf(later).toContain('Lamp on the col, burn low');
});

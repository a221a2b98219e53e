/** Cameras of the network at a desk: the form that adds one, and how it is shown. */
import type { Page } from '@playwright/test';

/** Adds a camera of the network by its form. @returns what is typed into it */
export async function addCamera(page: Page, by: 'rtmp' | 'whip'): Promise<{ address: string; key: string }> {
	await page.getByRole('button', { name: 'Add a source' }).click();
	await page.getByRole('button', { name: 'Add a network camera' }).click();
	await page.getByLabel('How it sends').selectOption(by);
	const address = await page
		.getByLabel(by === 'rtmp' ? 'Server address' : 'WHIP address', { exact: true })
		.inputValue();
	await page.getByRole('button', { name: 'Show its key' }).click();
	const key = await page.getByLabel(by === 'rtmp' ? 'Stream key' : 'Bearer token', { exact: true }).inputValue();
	return { address, key };
}

const sources = (page: Page) => page.getByRole('region', { name: 'Sources' });
/** Its row among the sources. */
export const cameraRow = (page: Page) => sources(page).getByRole('listitem').filter({ hasText: 'Network camera' });

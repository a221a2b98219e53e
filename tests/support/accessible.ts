/** What a page must have so that everybody can use it: WCAG 2.2, levels A and AA, as far as it can be measured. */
import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** What is objected to, each with the first element that it is about. */
export async function objections(page: Page): Promise<string[]> {
	const found = await new AxeBuilder({ page })
		.setLegacyMode()
		.withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
		.analyze();
	return found.violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`);
}

export async function accessible(page: Page): Promise<void> {
	expect(await objections(page)).toEqual([]);
}

import { OWN_PANEL } from '$core/show/panels/own-panel.ts';
import { panels as words } from '$lib/words/index.ts';
import { eventOf } from '../../../../answer.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async (event) => {
	const { hub } = await eventOf(event);
	const { setup } = hub.state;
	const panelId = event.params.panel;
	const name = panelId === OWN_PANEL ? words.own : setup.panels.find(({ id }) => id === panelId)?.name;
	return { eventId: hub.eventId, title: setup.title, panelId, name: name ?? words.own };
};

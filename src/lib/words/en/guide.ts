import type { Value } from '../value.ts';

/** Words of the interface: the guide around its own texts. */
export const guideWords = {
	none: 'The guide has no such page.',
	pageTitle: (title: Value) => `${title} · Guide`,
	pages: 'Pages of the guide',
	home: 'Events',
	help: 'Help',
	whatWasThat: 'What was that?',
};

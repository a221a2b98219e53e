/** Pages of the guide, in the order in which somebody needs them. */
export const GUIDE_PAGES = [
	'first-event',
	'start-by-itself',
	'guests',
	'words',
	'sound',
	'reach',
	'went-wrong',
] as const;
export type GuidePage = (typeof GUIDE_PAGES)[number];

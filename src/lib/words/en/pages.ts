import type { Value } from '../value.ts';

/** Words of the interface: titles of pages, the first page, and the page of an error. */
export const pages = {
	events: 'Events · Bivvo',
	bivvo: 'Bivvo',
	whatItIs: 'Cameras and sound of an evening, switched and sent to those who could not come.',
	toMedia: 'Media library: clips and sounds for all events',
	wordsOf: (title: Value) => `${title} · Words`,
	hall: (title: Value) => `${title} · Hall screen`,
	stage: (title: Value) => `${title} · Stage screen`,
	check: (title: Value) => `${title} · Line check`,
	tally: (title: Value) => `${title} · Tally`,
	panels: (title: Value) => `${title} · Panels`,
	panel: (panel: Value, title: Value) => `${panel} · ${title}`,
	toSongs: 'Songs and texts for all events',
	media: 'Media library · Bivvo',
	songs: 'Songs and texts · Bivvo',
	desk: (title: Value) => `${title} · Desk`,
	prepare: (title: Value) => `${title} · Prepare`,
	mix: (title: Value) => `${title} · Stream mix`,
	sheet: (title: Value) => `${title} · Run sheet`,
	recordings: (title: Value) => `${title} · Recordings`,
	rehearsal: (title: Value, destination: Value) => `${title} · Rehearsal for ${destination}`,
	report: (title: Value) => `${title} · Report`,
	somethingWentWrong: 'Something went wrong.',
	toEvents: 'To the events',
};

/** What a press beside a line of the check does: something at once, or the way to where it is done. */
import type { CheckEntry, CheckMend } from '../../core/line-check/entry.ts';
import type { ShowSession } from '../show/show-session.svelte.ts';
import { askServer } from '../ui/ask.ts';

const PAGES: Readonly<Record<Extract<CheckMend, { does: 'open' }>['page'], (event: string) => string>> = {
	desk: (event) => event,
	guests: (event) => event,
	prepare: (event) => `${event}/prepare`,
	mix: (event) => `${event}/mix`,
	media: () => '/media',
	people: () => '/people',
};

/** Where something is done that this page cannot do; null for what it does itself. */
export function placeOf(mend: CheckMend, eventId: string): string | null {
	const event = `/events/${eventId}`;
	switch (mend.does) {
		case 'command':
		case 'measureLine':
		case 'testDestination':
			return null;
		case 'addSource':
			return `${event}/prepare#add`;
		case 'testMachine':
			return `${event}/prepare#machine`;
		case 'look':
			return `${event}/prepare`;
		case 'editFields':
			return `${event}/prepare#fields`;
		case 'rehearse':
			return `${event}#rehearse`;
		case 'pair':
			return `${event}/prepare#doors`;
		case 'editSource':
			return `${event}/prepare#source-${mend.sourceId}`;
		case 'editChannel':
			return `${event}/mix`;
		case 'editCue':
			return `${event}/prepare${mend.cueId === null ? '#sheet' : `#cue-${mend.cueId}`}`;
		case 'editDestination':
		case 'editDetails':
			return `${event}/prepare#destinations`;
		case 'open':
			return PAGES[mend.page](event);
	}
}

/** Does what this page can do itself, one thing at a time. */
export class Mending {
	readonly #session: ShowSession;
	/** Key of the line that is being worked on. */
	busy = $state<string | null>(null);

	constructor(session: ShowSession) {
		this.#session = session;
	}

	async do({ key, mend }: CheckEntry): Promise<void> {
		if (!mend || this.busy !== null) return;
		if (mend.does === 'command') return void this.#session.do(mend.command);
		const path = pathOf(mend);
		if (path === null) return;
		this.busy = key;
		const result = await askServer(`/api/events/${this.#session.eventId}${path}`, 'POST', {});
		this.busy = null;
		if ('problem' in result) this.#session.notify(result.problem);
	}
}

function pathOf(mend: CheckMend): string | null {
	if (mend.does === 'measureLine') return '/line';
	return mend.does === 'testDestination' ? `/destinations/${mend.destinationId}/test` : null;
}

/**
 * What an event has taken over from another one that names somebody or something of that evening. Until somebody has changed it,
 * or said that it is still right, it may be last time's.
 */
import * as v from 'valibot';
import { idSchema } from '../basics.ts';
import { commands, withLive, type Handlers } from '../slice.ts';
import type { Setup, ShowState } from '../state.ts';

export const MOST_CARRIED = 400;

/** What stood there when it was taken over; `what` and id name it. */
export const carriedSchema = v.object({
	what: v.picklist(['person', 'card']),
	id: idSchema,
	text: v.pipe(v.string(), v.maxLength(4000)),
});

export type Carried = v.InferOutput<typeof carriedSchema>;

const keyOf = ({ what, id }: Pick<Carried, 'what' | 'id'>) => `${what}-${id}`;

/** All that names somebody in a setup: people, and cards with words of their own. */
export function carriedOf({ people, sources }: Pick<Setup, 'people' | 'sources'>): Carried[] {
	const ofPeople = people.map(({ id, name, role }): Carried => ({ what: 'person', id, text: `${name}\n${role}` }));
	const ofCards = sources.flatMap((source): Carried[] => {
		if (source.kind !== 'card') return [];
		const text = source.card.lines.flatMap((line) => (line.says === 'text' ? [line.text] : [])).join('\n');
		return text === '' ? [] : [{ what: 'card', id: source.id, text }];
	});
	return [...ofPeople, ...ofCards].slice(0, MOST_CARRIED);
}

/** What still is as it was taken over, and that nobody has called right. Of people only those whose name may be shown. */
export function stillCarried({ setup, live }: ShowState): (Carried & { key: string; name: string })[] {
	const now = new Map(carriedOf(setup).map((each) => [keyOf(each), each.text]));
	const named = new Set([
		...setup.cues.flatMap(({ shows }) => shows.map(({ personId }) => personId)),
		...setup.overlays.map((overlay) => (overlay.kind === 'lowerThird' ? overlay.personId : null)),
		...setup.sources.flatMap((source) =>
			source.kind === 'card' ? source.card.lines.map((line) => ('personId' in line ? line.personId : null)) : [],
		),
	]);
	return live.carried.flatMap((carried) => {
		const key = keyOf(carried);
		if (now.get(key) !== carried.text || (carried.what === 'person' && !named.has(carried.id))) return [];
		const list: readonly { id: string; name: string }[] = carried.what === 'person' ? setup.people : setup.sources;
		return [{ ...carried, key, name: list.find(({ id }) => id === carried.id)!.name }];
	});
}

export const carriedCommands = commands({
	/** These are right for this evening as well. */
	confirmCarried: { keys: v.pipe(v.array(v.pipe(v.string(), v.maxLength(80))), v.maxLength(MOST_CARRIED)) },
	/** The way back. */
	setCarried: { carried: v.pipe(v.array(carriedSchema), v.maxLength(MOST_CARRIED)) },
});

export const carriedHandlers: Handlers<typeof carriedCommands> = {
	confirmCarried: (state, { keys }) => ({
		state: withLive(state, { carried: state.live.carried.filter((each) => !keys.includes(keyOf(each))) }),
		inverse: [{ type: 'setCarried', carried: state.live.carried }],
	}),
	setCarried: (state, { carried }) => ({
		state: withLive(state, { carried }),
		inverse: [{ type: 'setCarried', carried: state.live.carried }],
	}),
};

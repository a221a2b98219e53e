/** Commands that begin and end a broadcast, and set markers in it. */
import * as v from 'valibot';
import { idSchema, nameSchema, timeSchema, within } from '../basics.ts';
import type { SingleCommand } from '../command.ts';
import { planDelivery } from '../delivery/delivery.ts';
import { planTracks, type Track } from '../delivery/tracks.ts';
import { withDue, withoutDue } from '../due.ts';
import { refuse } from '../../refusal.ts';
import { guestIn } from '../guests/guest.ts';
import { commands, withLive, type Handlers } from '../slice.ts';
import { END_DUE, endsAt, isOnAir, type ShowState } from '../state.ts';
import { take } from '../takes/commands.ts';
import { messageIdSchema, MOST_HIDDEN } from './broadcast.ts';
import { MOST_POST_LETTERS, withNoted } from './noted.ts';

/** A broadcast that is to end by itself does so within a day. */
const LONGEST_END_MS = 86_400_000;

const postSchema = v.pipe(
	v.string(),
	v.trim(),
	v.minLength(1, 'textEmpty'),
	v.maxLength(MOST_POST_LETTERS, 'textLong'),
);

export const broadcastCommands = commands({
	/** A rehearsal is all the same, but goes to a private stand-in only. */
	startBroadcast: { broadcastId: idSchema, rehearsal: v.optional(v.boolean()) },
	endBroadcast: {},
	/**
	 * Lets the broadcast end by itself after `inMs`, or at `at` (milliseconds since 1970), with a scene put on air for
	 * that. With neither of the two it stays on.
	 */
	planEnd: {
		inMs: v.nullable(within(0, LONGEST_END_MS)),
		sceneId: v.nullable(idSchema),
		at: v.optional(timeSchema),
	},
	/** A moment worth finding again in the recording. */
	addMarker: { text: nameSchema },
	/** A message to viewers, at each host whose account takes one. */
	postToViewers: { text: postSchema },
	/** A message of a viewer is not shown any more, or again. */
	hideMessage: { messageId: messageIdSchema, hidden: v.boolean() },
});

export const broadcastHandlers: Handlers<typeof broadcastCommands> = {
	startBroadcast(state, { broadcastId, rehearsal }, at) {
		if (isOnAir(state)) throw refuse('alreadyOnAir', {});
		const broadcast = {
			id: broadcastId,
			startedAt: at,
			endedAt: null,
			rehearsal: rehearsal ?? false,
			renditions: planDelivery(state).renditions,
			tracks: planTracks(state.setup).map((track) => ({ ...track, name: nameOf(state, track) })),
		};
		return { state: withLive(state, { broadcast, sheetUnlocked: false }), inverse: [] };
	},
	endBroadcast(state, _, at) {
		if (!isOnAir(state)) throw refuse('notOnAir', {});
		const ended = withLive(state, { broadcast: { ...state.live.broadcast!, endedAt: at } });
		return { state: withoutDue(ended, END_DUE), inverse: [] };
	},
	planEnd(state, { inMs, sceneId, at: endAt }, at) {
		if (!isOnAir(state)) throw refuse('notOnAir', {});
		const end = endAt ?? (inMs === null ? null : at + inMs);
		const taken = end === null || sceneId === null ? { state, inverse: [] } : take(state, sceneId, undefined, at);
		const before = endsAt(state);
		const back: SingleCommand = { type: 'planEnd', inMs: null, sceneId: null, ...(before !== null && { at: before }) };
		return {
			state:
				end === null
					? withoutDue(taken.state, END_DUE)
					: withDue(taken.state, END_DUE, end, [{ type: 'endBroadcast' }]),
			inverse: [back, ...taken.inverse],
		};
	},
	addMarker(state, { text }, at) {
		if (!isOnAir(state)) throw refuse('markerOffAir', {});
		return { state: withNoted(state, 'marker', text, at), inverse: [] };
	},
	postToViewers(state, { text }, at) {
		if (!isOnAir(state)) throw refuse('notOnAir', {});
		return { state: withNoted(state, 'post', text, at), inverse: [] };
	},
	hideMessage(state, { messageId, hidden }) {
		const before = state.live.hiddenMessages;
		const others = before.filter((id) => id !== messageId);
		return {
			state: withLive(state, { hiddenMessages: hidden ? [...others, messageId].slice(-MOST_HIDDEN) : others }),
			inverse: [{ type: 'hideMessage', messageId, hidden: before.includes(messageId) }],
		};
	},
};

/** Whoever sits in a seat names what is recorded of it: an editor looks for people. */
function nameOf(state: ShowState, { kind, id, name }: Track): string {
	const sourceId = kind === 'source' ? id : state.setup.channels.find((channel) => channel.id === id)?.sourceId;
	return (sourceId && guestIn(state, sourceId)?.name) || name;
}

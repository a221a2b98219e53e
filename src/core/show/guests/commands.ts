/** Commands about guests. Nobody is seen or heard by viewers without a press of the crew. */
import * as v from 'valibot';
import { refuse } from '../../refusal.ts';
import { idSchema, nameSchema, timeSchema } from '../basics.ts';
import type { SingleCommand } from '../command.ts';
import { commands, withLive, type Change, type Handlers } from '../slice.ts';
import type { ShowState } from '../state.ts';
import { guestIn, MOST_GUESTS, newGuest, treatmentSchema, type Guest } from './guest.ts';

export const guestCommands = commands({
	/** Lets a guest in, or gives them another place; whoever has the seat goes to the green room. */
	placeGuest: { guestId: idSchema, seatId: v.nullable(idSchema) },
	/** Gives the screen that they share a place, or takes it away. */
	placeScreen: { guestId: idSchema, seatId: v.nullable(idSchema) },
	changeGuest: {
		guestId: idSchema,
		name: v.optional(nameSchema),
		seen: v.optional(v.boolean()),
		heard: v.optional(v.boolean()),
		treatment: v.optional(treatmentSchema),
	},
	/** Tells them when they will be on air, or that it is not known any more. */
	countIn: { guestId: idSchema, at: v.nullable(timeSchema) },
	/** Chooses the scene that guests may see besides the program; null is none. */
	setGuestScene: { sceneId: v.nullable(idSchema) },
	/** Turns somebody away, or ends their visit: their link opens nothing any more. */
	removeGuest: { guestId: idSchema },
});

/** What only the server knows. */
export const guestServerCommands = commands({
	/** Somebody is at the door, under a name of theirs; who has been here before keeps their place. */
	guestArrived: { guestId: idSchema, name: nameSchema },
	/** They have left, and are not expected to come back. */
	guestLeft: { guestId: idSchema },
});

export const guestHandlers: Handlers<typeof guestCommands & typeof guestServerCommands> = {
	placeGuest(state, { guestId, seatId }) {
		const guest = found(state, guestId);
		if (guest.isIn && guest.seatId === seatId) return { state, inverse: [] };
		mustBeSeat(state, seatId, 'camera');
		const other = seatId === null ? null : guestIn(state, seatId);
		const without = other ? changed(state, other.id, { seatId: null }) : state;
		const back: SingleCommand[] = [
			// Who has been let in is not put back before the door.
			{ type: 'placeGuest', guestId, seatId: guest.seatId },
			...(other ? [{ type: 'placeGuest', guestId: other.id, seatId } as const] : []),
		];
		return { state: changed(without, guestId, { isIn: true, seatId, countedInAt: null }), inverse: back };
	},
	placeScreen(state, { guestId, seatId }) {
		const guest = found(state, guestId);
		mustBeSeat(state, seatId, 'screen');
		const other = seatId === null ? null : guestIn(state, seatId);
		const without = other ? changed(state, other.id, { screenSeatId: null }) : state;
		const back: SingleCommand[] = [
			{ type: 'placeScreen', guestId, seatId: guest.screenSeatId },
			...(other ? [{ type: 'placeScreen', guestId: other.id, seatId } as const] : []),
		];
		return { state: changed(without, guestId, { screenSeatId: seatId }), inverse: back };
	},
	changeGuest(state, { type, guestId, ...part }) {
		const guest = found(state, guestId);
		const given = Object.fromEntries(Object.entries(part).filter(([, value]) => value !== undefined));
		const before = Object.fromEntries(Object.keys(given).map((key) => [key, guest[key as keyof Guest]]));
		return { state: changed(state, guestId, given), inverse: [{ type, guestId, ...before }] };
	},
	countIn(state, { guestId, at }) {
		const { countedInAt } = found(state, guestId);
		return {
			state: changed(state, guestId, { countedInAt: at }),
			inverse: [{ type: 'countIn', guestId, at: countedInAt }],
		};
	},
	setGuestScene(state, { type, sceneId }) {
		if (sceneId !== null && !state.setup.scenes.some(({ id }) => id === sceneId))
			throw refuse('gone', { what: 'scene' });
		const { guestScene } = state.live;
		return {
			state: withLive(state, { guestScene: sceneId }),
			inverse: guestScene === sceneId ? [] : [{ type, sceneId: guestScene }],
		};
	},
	// The link is dead: there is no way back.
	removeGuest: (state, { guestId }) => without(state, found(state, guestId).id),
	guestArrived(state, { guestId, name }) {
		const { guests } = state.live;
		if (guests.some(({ id }) => id === guestId)) return { state: changed(state, guestId, { name }), inverse: [] };
		if (guests.length >= MOST_GUESTS) throw refuse('tooMany', { what: 'guest', most: MOST_GUESTS });
		// Whoever made the seat has let them in with it.
		const seatId = reservedSeat(state, guestId);
		const guest = { ...newGuest(guestId, name), isIn: seatId !== null, seatId };
		return { state: withLive(state, { guests: [...guests, guest] }), inverse: [] };
	},
	guestLeft: (state, { guestId }) => without(state, found(state, guestId).id),
};

/** The seat that was made for somebody; null without one. */
function reservedSeat({ setup }: ShowState, guestId: string): string | null {
	return setup.sources.find((source) => source.kind === 'seat' && source.reservedFor === guestId)?.id ?? null;
}

function found(state: ShowState, guestId: string): Guest {
	const guest = state.live.guests.find(({ id }) => id === guestId);
	if (!guest) throw refuse('gone', { what: 'guest' });
	return guest;
}

function mustBeSeat(state: ShowState, seatId: string | null, shows: 'camera' | 'screen'): void {
	const seat = state.setup.sources.find(({ id }) => id === seatId);
	if (seatId !== null && !(seat?.kind === 'seat' && seat.shows === shows)) throw refuse('gone', { what: 'seat' });
}

function changed(state: ShowState, guestId: string, part: Partial<Guest>): ShowState {
	const guests = state.live.guests.map((guest) => (guest.id === guestId ? { ...guest, ...part } : guest));
	return withLive(state, { guests });
}

function without(state: ShowState, guestId: string): Change {
	return { state: withLive(state, { guests: state.live.guests.filter(({ id }) => id !== guestId) }), inverse: [] };
}

/** Without what pointed to a seat or a scene that was taken away. */
export function withoutLost(before: ShowState, state: ShowState): ShowState {
	return withoutLostSeats(before, withoutLostGuestScene(before, state));
}

/** What guests see is a scene that is there. */
function withoutLostGuestScene(before: ShowState, state: ShowState): ShowState {
	const { guestScene } = state.live;
	if (before.setup.scenes === state.setup.scenes || guestScene === null) return state;
	return state.setup.scenes.some(({ id }) => id === guestScene) ? state : withLive(state, { guestScene: null });
}

/** A seat that is taken away is nobody's any more: who had it is in the green room. */
function withoutLostSeats(before: ShowState, state: ShowState): ShowState {
	if (before.setup.sources === state.setup.sources || state.live.guests.length === 0) return state;
	const isThere = (seatId: string | null) => seatId === null || state.setup.sources.some(({ id }) => id === seatId);
	if (state.live.guests.every(({ seatId, screenSeatId }) => isThere(seatId) && isThere(screenSeatId))) return state;
	const guests = state.live.guests.map((guest) => ({
		...guest,
		seatId: isThere(guest.seatId) ? guest.seatId : null,
		screenSeatId: isThere(guest.screenSeatId) ? guest.screenSeatId : null,
	}));
	return withLive(state, { guests });
}

/** The first seat for a camera that nobody has; null when all are taken. */
export function firstFreeSeat(state: ShowState): string | null {
	return (
		state.setup.sources.find(
			(source) =>
				source.kind === 'seat' &&
				source.shows === 'camera' &&
				source.reservedFor === null &&
				!guestIn(state, source.id),
		)?.id ?? null
	);
}

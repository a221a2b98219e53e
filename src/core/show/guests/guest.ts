/** Guests: people far away who come by a link. The show knows where each of them is; their lines are no part of it. */
import * as v from 'valibot';
import { idSchema, nameSchema, timeSchema } from '../basics.ts';
import { isSourceHeard } from '../mix/open.ts';
import type { Layer } from '../scenes/scene.ts';
import type { Source } from '../sources/source.ts';
import { isOnAir, isSourceShown, type ShowState } from '../state.ts';
import { gathered } from './gathering.ts';

/** Guests of one event at a time. */
export const MOST_GUESTS = 20;

/** What the guest's own browser does to their sound: for speech; a musician needs none of it. */
export const treatmentSchema = v.object({ echo: v.boolean(), noise: v.boolean(), level: v.boolean() });
export const FOR_SPEECH: Treatment = { echo: true, noise: true, level: true };
export const FOR_MUSIC: Treatment = { echo: false, noise: false, level: false };

export const guestSchema = v.object({
	/** That of the link they came by. */
	id: idSchema,
	name: nameSchema,
	/** False until somebody of the crew has let them in. */
	isIn: v.boolean(),
	/** The seats of their camera and their screen; without one they are in the green room. */
	seatId: v.nullable(idSchema),
	screenSeatId: v.nullable(idSchema),
	/** Viewers may see, and hear, them: where their seat is in the program. */
	seen: v.boolean(),
	heard: v.boolean(),
	treatment: treatmentSchema,
	/** When they will be on air, as the crew has told them; milliseconds since 1970. */
	countedInAt: v.nullable(timeSchema),
});

export type Guest = v.InferOutput<typeof guestSchema>;
export type Treatment = v.InferOutput<typeof treatmentSchema>;

/** Somebody who waits to be let in. */
export function newGuest(id: string, name: string): Guest {
	const nowhere = { isIn: false, seatId: null, screenSeatId: null };
	return { id, name, ...nowhere, seen: true, heard: true, treatment: { ...FOR_SPEECH }, countedInAt: null };
}

/** What is true for a guest now, as they are told it in one large line. */
export type Situation =
	| { is: 'waiting' }
	/** The crew hears them, viewers do not. */
	| { is: 'greenRoom'; at: number | null }
	/** In a seat that viewers do not see now. */
	| { is: 'ready'; at: number | null }
	| { is: 'onAir'; seen: boolean; heard: boolean };

/** The guest who has a seat; null while nobody has. */
export function guestIn({ live }: Pick<ShowState, 'live'>, seatId: string): Guest | null {
	return live.guests.find((guest) => guest.seatId === seatId || guest.screenSeatId === seatId) ?? null;
}

/** Whether viewers see a guest's picture, and hear them. */
export function reaches(state: ShowState, { isIn, seatId, seen }: Guest): { seen: boolean; heard: boolean } {
	if (!isIn || seatId === null) return { seen: false, heard: false };
	return {
		seen: seen && isSourceShown(state, seatId) && !state.live.black,
		heard: isSourceHeard(state, seatId),
	};
}

/** The picture that is asked of a guest: no larger than it is used. Frames per second at most. */
export interface WantedPicture {
	height: number;
	fps: number;
}

/** What is asked of a picture that is used, smallest first. */
const USED_HEIGHTS = [360, 540, 720];
/** A picture that is stretched by less than this looks no softer. */
const UNSEEN_STRETCH = 1.1;

/** @param coming scene of the run sheet's next cue */
export function wantedPicture(state: ShowState, { isIn, seatId }: Guest, coming: string | null): WantedPicture {
	if (!isIn) return { height: 180, fps: 10 };
	if (seatId === null) return { height: 360, fps: 15 };
	const { program, next } = state.live;
	const shown = [program, next, coming].flatMap((sceneId) => layersWith(state, sceneId, seatId));
	if (shown.length === 0)
		// Inside a scene that another one shows.
		return isSourceShown(state, seatId) ? LARGEST_PICTURE : { height: 360, fps: 15 };
	const lines = Math.max(...shown.map((layer) => linesOf(state, layer))) / UNSEEN_STRETCH;
	return { height: USED_HEIGHTS.find((height) => height >= lines) ?? 720, fps: 30 };
}

/** Pictures have about this shape. */
const SHAPE = 16 / 9;
export const pixelsOfGuest = ({ height, fps }: WantedPicture): number => SHAPE * height * height * fps;
/** What is asked of somebody who fills the program. */
export const LARGEST_PICTURE: WantedPicture = { height: 720, fps: 30 };

/** Places for guests and phones; those of their screens are others. */
export function seatsFor({ setup }: Pick<ShowState, 'setup'>): Source[] {
	return setup.sources.filter((source) => source.kind === 'seat' && source.shows === 'camera');
}

/**
 * The most that is asked of the guests in all seats at once, with any scene as the program and any as Next; pixels a second.
 */
export function mostOfGuests(state: ShowState): number {
	const guests = seatsFor(state).map(({ id }) => ({ ...newGuest(id, id), isIn: true, seatId: id }));
	const inScene = [null, ...state.setup.scenes.map(({ id }) => id)].map((program) => {
		const live = { ...state.live, guests, program, next: null };
		return guests.map((guest) => pixelsOfGuest(wantedPicture({ ...state, live }, guest, null)));
	});
	const both = (one: readonly number[], other: readonly number[]) =>
		one.reduce((sum, pixels, i) => sum + Math.max(pixels, other[i]!), 0);
	return inScene.reduce((most, one, i) => Math.max(most, ...inScene.slice(i).map((other) => both(one, other))), 0);
}

/** Layers that show a source in a scene, as it is and as it is being changed. */
function layersWith({ setup, live }: ShowState, sceneId: string | null, sourceId: string): Layer[] {
	const isIt = ({ id }: { id: string }) => id === sceneId;
	const made = [setup.scenes.find(isIt), live.drafts.find(isIt)];
	const { sources } = setup;
	return made
		.flatMap((scene) => (scene?.gathers ? gathered(scene, { sources, guests: live.guests }) : (scene ?? [])))
		.flatMap(({ layers }) => layers.filter((layer) => layer.sourceId === sourceId));
}

/** Lines that a source's picture would need to be shown in a layer as sharp as the program is. */
function linesOf({ setup }: ShowState, { box, fit, crop, framingId, sourceId }: Layer): number {
	const source = setup.sources.find(({ id }) => id === sourceId);
	const framing = source?.framings.find(({ id }) => id === framingId)?.crop;
	const part = Math.min(crop.width, crop.height) * (framing ? Math.min(framing.width, framing.height) : 1);
	const sides = [box.width, box.height];
	// Pictures of guests have the program's shape, or nearly.
	return (setup.picture.height * (fit === 'fit' ? Math.min(...sides) : Math.max(...sides))) / part;
}

/** The broadcast beside which a guest's own browser may record them; null while there is none. */
export function recordedBeside(state: ShowState, { isIn }: Guest): string | null {
	return isIn && isOnAir(state) ? state.live.broadcast!.id : null;
}

export function situationOf(state: ShowState, guest: Guest): Situation {
	if (!guest.isIn) return { is: 'waiting' };
	const { seen, heard } = reaches(state, guest);
	if (isOnAir(state) && (seen || heard)) return { is: 'onAir', seen, heard };
	return { is: guest.seatId === null ? 'greenRoom' : 'ready', at: guest.countedInAt };
}

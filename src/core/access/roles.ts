/** Who acts, and in which role. */

/**
 * What a person or a paired device may be. `owner`: also people, devices and the organisation; `director`: the whole
 * show and where it is sent; `sound`: the mix; `words`: names and what else is laid over the picture; `viewer`: looks.
 */
export const ROLES = ['owner', 'director', 'sound', 'words', 'viewer'] as const;

/** A guest comes by a link, for one event, and sees nothing of the desk. */
export const GUEST = 'guest';

export type Role = (typeof ROLES)[number];
export type AnyRole = Role | typeof GUEST;

/** From who may most to who may least. */
const BY_RIGHTS: readonly AnyRole[] = [...ROLES, GUEST];

/** Whoever sits at the machine itself, a person with an account, a paired device, somebody with a link, another program. */
export type ActorKind = 'machine' | 'person' | 'device' | 'link' | 'program';

export interface Actor {
	kind: ActorKind;
	/** Names the person, device or link; stable over its sessions. */
	id: string;
	/** As others see it, in lists and in the log. */
	name: string;
	/** In the organisation; null for who has one in some events only. */
	role: AnyRole | null;
	/** What counts at some events in place of that. */
	roleAt: Readonly<Record<string, AnyRole>>;
}

/** What an actor is at an event; null for nothing at all. Outside of events: what it is in the organisation. */
export function roleOf(actor: Actor, eventId: string | null): AnyRole | null {
	const own = eventId === null ? undefined : Object.hasOwn(actor.roleAt, eventId) ? actor.roleAt[eventId] : undefined;
	return own ?? actor.role;
}

/**
 * What an actor is in the organisation, or else the most that it is at any event: for what events have in common, such
 * as the media library. Whoever owns one event is no owner of the organisation.
 */
export function roleAnywhere({ role, roleAt }: Actor): AnyRole | null {
	if (role !== null) return role;
	const there = Object.values(roleAt);
	const most = BY_RIGHTS.find((each) => there.includes(each)) ?? null;
	return most === 'owner' ? 'director' : most;
}

/** The machine's own keyboard, while nobody else can reach it. */
export const AT_THE_MACHINE: Actor = {
	kind: 'machine',
	id: 'machine',
	name: 'This machine',
	role: 'owner',
	roleAt: {},
};

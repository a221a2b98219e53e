/** The guests that ship, and what can go wrong with them. */

export const STAND_IN_GUESTS = [
	{ id: 'cold-tarn', name: 'Ysolde Brann' },
	{ id: 'three-larches', name: 'Pello Arrizun' },
] as const;

export type StandInGuest = (typeof STAND_IN_GUESTS)[number]['id'];

/** By each what is wrong: a line that loses; the picture stands still; what they hear comes back; a voice far away; a hissing line. */
export const GUEST_FAULTS = ['none', 'weak', 'frozen', 'echo', 'soft', 'hiss'] as const;

export type GuestFault = (typeof GUEST_FAULTS)[number];

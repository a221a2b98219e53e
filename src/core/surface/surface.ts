/** A control surface at an event: what its messages come to, and what is sent back so that it shows how things stand. */
import type { Order } from '../show/actions/order.ts';
import { standOf, type ButtonState } from '../show/actions/actions.ts';
import type { SingleCommand } from '../show/command.ts';
import type { ShowState } from '../show/state.ts';
import { controlKey, isSameControl, readMidi, writeMidi, type Control } from './midi.ts';
import { PickUp } from './pick-up.ts';
import type { Assignment, SurfaceProfile } from './profile.ts';

/** What a touch comes to. */
export type Touch =
	| { is: 'press' | 'release'; order: Order }
	| { is: 'moved'; command: SingleCommand }
	/** A fader that has not taken hold: the hand has to bring it there. */
	| { is: 'waits'; way: 'up' | 'down' | null }
	/** Nothing has been given to it. */
	| { is: 'unknown'; control: Control };

/** A control that is moved is not moved back by its motor for so long, milliseconds. */
const HAND_MS = 600;
/** Of a fader, dB. */
const LOWEST_DB = -60;
const HIGHEST_DB = 12;
/** How bright a pad is. */
const LIGHTS: Record<ButtonState, number> = {
	...{ program: 1, next: 0.4, armed: 0.4, on: 1, running: 0.7, muted: 1 },
	...{ plain: 0, idle: 0, gone: 0 },
};

export const positionOf = (gainDb: number) => (gainDb - LOWEST_DB) / (HIGHEST_DB - LOWEST_DB);
/** In tenths of a decibel. */
export const gainAt = (position: number) => Math.round(10 * (LOWEST_DB + position * (HIGHEST_DB - LOWEST_DB))) / 10;

export class Surface {
	readonly #profile: SurfaceProfile;
	readonly #pickUps = new Map<string, PickUp>();
	/** When a control was touched last. */
	readonly #touched = new Map<string, number>();
	/** What was sent last to each control. */
	readonly #sent = new Map<string, string>();

	constructor(profile: SurfaceProfile) {
		this.#profile = profile;
	}

	/** @param now milliseconds since 1970 @returns null for a message that is about no control */
	receive(bytes: Uint8Array, show: ShowState, now: number): Touch | null {
		const touched = readMidi(bytes);
		if (!touched) return null;
		const { control, position } = touched;
		const assignment = this.#profile.assignments.find((each) => isSameControl(each.control, control));
		if (!assignment) return { is: 'unknown', control };
		const key = controlKey(control);
		this.#touched.set(key, now);
		if (assignment.does.is === 'order') return { is: position > 0 ? 'press' : 'release', order: assignment.does.order };
		const target = targetOf(assignment, show);
		if (target === null) return { is: 'unknown', control };
		const pickUp = this.#pickUps.get(key) ?? new PickUp();
		this.#pickUps.set(key, pickUp);
		const to = assignment.motor ? position : pickUp.move(position, target);
		if (to === null) return { is: 'waits', way: pickUp.wayTo(target) };
		const gainDb = gainAt(to);
		return {
			is: 'moved',
			command:
				assignment.does.is === 'fader'
					? { type: 'setFader', channelId: assignment.does.channelId, gainDb }
					: { type: 'setGroupFader', group: assignment.does.group, gainDb },
		};
	}

	/** Messages that bring lights and motors to how things stand; those that are so already are left out. */
	feedback(show: ShowState, now: number): Uint8Array<ArrayBuffer>[] {
		const messages: Uint8Array<ArrayBuffer>[] = [];
		for (const assignment of this.#profile.assignments) {
			const { control, does, motor } = assignment;
			const key = controlKey(control);
			if (does.is !== 'order' && (!motor || now - (this.#touched.get(key) ?? -Infinity) < HAND_MS)) continue;
			const position = does.is === 'order' ? LIGHTS[standOf(show, does.order, now)] : targetOf(assignment, show);
			if (position === null) continue;
			const message = writeMidi(control, position);
			const text = message.join(' ');
			if (this.#sent.get(key) === text) continue;
			this.#sent.set(key, text);
			messages.push(message);
		}
		return messages;
	}
}

/** Where a fader's channel or group is, 0 to 1; null when it is gone. */
function targetOf({ does }: Assignment, { setup }: ShowState): number | null {
	if (does.is === 'group') return positionOf(setup.mix.groups[does.group].gainDb);
	if (does.is !== 'fader') return null;
	const channel = setup.channels.find(({ id }) => id === does.channelId);
	return channel ? positionOf(channel.gainDb) : null;
}

/**
 * What somebody at an event is told, by role. Every page runs the same reducer, so a command is never left out; what it
 * says of the ways out is.
 */
import type { Command } from '../show/command.ts';
import type { Destination } from '../show/delivery/destination.ts';
import type { HubMessage, LiveStatus } from '../show/messages.ts';
import type { ShowState } from '../show/state.ts';
import type { AnyRole } from './roles.ts';

/** Who sees where the program goes: the places of destinations, the logins, and what hosts say. */
const SEE_DESTINATIONS: readonly AnyRole[] = ['owner', 'director'];
/** Who sees how sending goes, and what viewers write. */
const SEE_DELIVERY: readonly AnyRole[] = [...SEE_DESTINATIONS, 'sound', 'words'];

/** The message as somebody in a role gets it; null for nothing at all. */
export function toldTo(role: AnyRole, message: HubMessage): HubMessage | null {
	if (SEE_DESTINATIONS.includes(role)) return message;
	const seesDelivery = SEE_DELIVERY.includes(role);
	switch (message.type) {
		case 'welcome':
			return {
				...message,
				state: withoutAddresses(message.state),
				status: seesDelivery ? withoutReasons(message.status) : withoutDelivery(message.status),
				loudness: seesDelivery ? message.loudness : null,
			};
		case 'applied':
			return { ...message, command: withoutAddress(message.command) };
		case 'status':
			return seesDelivery ? withoutReasons(message) : withoutDelivery(message);
		case 'sound':
		case 'loudness':
		case 'viewers':
		case 'guests':
			return seesDelivery ? message : null;
		case 'guestSignal':
		case 'check':
			return null;
		case 'hears':
		case 'hearSignal':
		case 'done':
		case 'lease':
		case 'refused':
			return message;
	}
}

function withoutAddresses(state: ShowState): ShowState {
	const { setup, live } = state;
	return {
		...state,
		setup: { ...setup, destinations: setup.destinations.map(nameOnly) },
		live: { ...live, removedDestinations: live.removedDestinations.map(nameOnly) },
	};
}

/** Only the server says where something goes, and never in a batch. */
function withoutAddress(command: Command): Command {
	const says = command.type === 'addDestination' || command.type === 'changeDestination';
	return says ? { ...command, destination: nameOnly(command.destination) } : command;
}

function nameOnly(destination: Destination): Destination {
	const nothing = {
		address: '',
		userName: '',
		accountUrl: null,
		signed: null,
		watch: null,
		details: null,
		hostBroadcast: null,
	};
	return { ...destination, ...nothing };
}

/**
 * Why something is not sent names the place, or is in the host's own words. That it is tried again is told by its reason, so
 * without one it is lost.
 */
function withoutReasons(status: LiveStatus): LiveStatus {
	const told = status.destinations.map(({ phase, fault, ...rest }) => {
		const isTriedAgain = phase === 'connecting' && fault !== null;
		return { ...rest, phase: isTriedAgain ? ('lost' as const) : phase, fault: null };
	});
	return { ...status, destinations: told };
}

/** The clock, whether pictures come, and since when viewers see the holding card: what a run sheet needs. */
function withoutDelivery(status: LiveStatus): LiveStatus {
	const recording = { ...status.recording, file: '', bytes: 0, fault: null, roomS: null, elsewhere: false, tracks: [] };
	return { ...status, destinations: [], rates: [], serverCores: 0, unreadable: [], recording };
}

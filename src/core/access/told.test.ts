import { describe, expect, it } from 'vitest';
import { idleStatus, type DestinationStatus, type HubMessage, type LiveStatus } from '../show/messages.ts';
import { reduce } from '../show/reduce.ts';
import { emptyShow, type Destination, type ShowState } from '../show/state.ts';
import { ROLES, type AnyRole } from './roles.ts';
import { toldTo } from './told.ts';

const PICTURE = { width: 1280, height: 720, fps: 30 } as const;
const ridge: Destination = {
	...{ id: 'ridge', name: 'Ridge Channel', address: 'rtmp://ridge.example/live', userName: 'maren', hasKey: true },
	...{
		ticked: true,
		keyLasts: false,
		maxHeight: null,
		maxKbps: null,
		maxFps: null,
		accountUrl: 'https://ridge.example/account',
	},
	signed: { hostId: 'fell-stream', placeId: 'ridge-place' },
	watch: { slug: 'lantern-link', access: 'link', captions: false, messages: false, recording: false },
	hostBroadcast: 'ridge-broadcast',
	details: { title: 'Lantern Night', description: 'Songs', visibility: 'unlisted', plannedAt: '', pictureId: null },
};
/** Of the place, the login, the account and what it is told. */
const hidden = ['ridge.example', 'maren', 'unlisted', 'fell-stream', 'ridge-place', 'ridge-broadcast', 'lantern-link'];
const lost: DestinationStatus = {
	...{ ...idleStatus('ridge', 0), phase: 'lost', rateKbps: 4321 },
	fault: { code: 'notListening', about: { where: 'ridge.example:1935' } },
};
const status: LiveStatus = {
	...{ type: 'status', now: 1, destinations: [lost], engine: 'desk', watched: [] },
	recording: {
		phase: 'recording',
		file: 'evening.mp4',
		bytes: 77,
		fault: null,
		roomS: 9,
		elsewhere: false,
		tracks: [],
	},
	...{ receiving: true, holdingSince: 12, rates: [{ kbps: 4500, plannedKbps: 4500 }], serverCores: 0.4 },
	...{ stored: true, unreadable: [] },
};
const empty = emptyShow('lantern-night', 'Lantern Night', '', PICTURE);
const added = { type: 'addDestination', destination: ridge, at: 0 } as const;
const state = reduce(empty, added, 0).state;
const removed = reduce(state, { type: 'removeDestination', destinationId: 'ridge' }, 1).state;
const welcome = (of: ShowState): HubMessage => ({
	...{ type: 'welcome', client: 'a', role: 'viewer', lease: null, seq: 1, state: of, status },
	loudness: { broadcastId: 'evening', history: [1] },
});
const messages: HubMessage[] = [
	welcome(state),
	welcome(removed),
	{ type: 'applied', seq: 2, at: 0, by: 'server', id: 'x', command: added },
	{ type: 'applied', seq: 3, at: 0, by: 'server', id: 'y', command: { ...added, type: 'changeDestination' } },
];
const said = (role: AnyRole, message: HubMessage) => JSON.stringify(toldTo(role, message));

describe('what somebody is told', () => {
	it.each(['owner', 'director'] as const)('is all of it for %s', (role) => {
		for (const message of [...messages, status]) expect(toldTo(role, message)).toBe(message);
	});

	it.each(['sound', 'words', 'viewer', 'guest'] as const)('has no address, login or account for %s', (role) => {
		for (const each of hidden) expect(said(role, status)).not.toContain(each);
		for (const message of messages) {
			for (const each of hidden) expect(said(role, message)).not.toContain(each);
			expect(said(role, message)).toContain('Ridge Channel');
		}
	});

	it('is for who only looks the clock and the holding card, not how it goes to hosts nor what viewers write', () => {
		const { now, receiving, holdingSince } = status;
		for (const role of ['viewer', 'guest'] as const) {
			expect(toldTo(role, status)).toMatchObject({ now, receiving, holdingSince, destinations: [], rates: [] });
			for (const each of ['4321', '4500', 'evening.mp4']) expect(said(role, messages[0]!)).not.toContain(each);
			expect(toldTo(role, { type: 'viewers', messages: [] })).toBeNull();
		}
		for (const role of ['sound', 'words'] as const) {
			expect(toldTo(role, status)).toEqual({ ...status, destinations: [{ ...lost, fault: null }] });
			// What is tried again stays lost for them, though they are not told why.
			const trying = { ...status, destinations: [{ ...lost, phase: 'connecting' as const }] };
			expect(toldTo(role, trying)).toEqual(toldTo(role, status));
			expect(toldTo(role, { type: 'viewers', messages: [] })).toEqual({ type: 'viewers', messages: [] });
		}
	});

	it('lets every page go on with the same show, whatever is done to a destination afterwards', () => {
		for (const role of ROLES) {
			const told = toldTo(role, welcome(removed)) as Extract<HubMessage, { type: 'welcome' }>;
			const back = reduce(told.state, { type: 'returnDestination', destinationId: 'ridge', at: 0 }, 2).state;
			const ticked = reduce(back, { type: 'tickDestination', destinationId: 'ridge', ticked: false }, 3).state;
			expect(ticked.setup.destinations).toMatchObject([{ name: 'Ridge Channel', ticked: false }]);
		}
	});
});

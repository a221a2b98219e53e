import { describe, expect, it } from 'vitest';
import type { GuestPresence } from '../guests/messages.ts';
import { plainClip, wholeItem } from './clips/clip.ts';
import { newGuest } from './guests/guest.ts';
import { idleStatus, type LiveStatus, type SoundReport } from './messages.ts';
import { plainChannel } from './mix/mix.ts';
import { plainScene, wholeLayer } from './scenes/scene.ts';
import { withLive, withSetup } from './slice.ts';
import { plainSource } from './sources/source.ts';
import { emptyShow } from './state.ts';
import { findTroubles, type Known } from './troubles.ts';

const AT = 1_795_000_000_000;
const recording: LiveStatus['recording'] = {
	phase: 'off',
	file: '',
	bytes: 0,
	fault: null,
	roomS: 36_000,
	elsewhere: false,
	tracks: [],
};
const status: LiveStatus = {
	type: 'status',
	now: AT,
	destinations: [],
	recording,
	engine: 'desk',
	watched: [],
	receiving: true,
	holdingSince: null,
	rates: [],
	serverCores: 0.1,
	stored: true,
	unreadable: [],
};
const ridge = {
	...{
		id: 'ridge',
		name: 'Ridge Channel',
		address: 'rtmp://h.example/ridge',
		userName: '',
		hasKey: true,
		keyLasts: false,
		ticked: true,
	},
	...{ maxHeight: null, maxKbps: null, maxFps: null, accountUrl: null, details: null },
	...{ signed: null, watch: null, hostBroadcast: null },
};
const off = withSetup(emptyShow('e', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }), {
	sources: [
		plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' }),
		plainSource('console', 'Console', { kind: 'standInConsole', standIn: 'console' }),
	],
	channels: [plainChannel('mic', 'console', 'Lectern mic', [0]), plainChannel('choir', 'console', 'Choir', [2, 3])],
	destinations: [ridge],
});
const broadcast = { id: 'b', startedAt: AT - 10_000, endedAt: null, rehearsal: false, renditions: [], tracks: [] };
const on = withLive(off, { broadcast, program: 'scene' });
const known: Known<string, string> = {
	...{
		show: on,
		status,
		connected: true,
		isWatching: false,
		needsPress: false,
		engine: {},
		conditions: new Map(),
		guests: [],
	},
	...{ heard: null, blackMs: 0, onlySound: false, now: AT, clockOffsetMs: 0 },
};
const found = (part: Partial<Known<string, string>>) => findTroubles({ ...known, ...part });
const keys = (part: Partial<Known<string, string>>) => found(part).map(({ key }) => key);
const silent: SoundReport['channels'][number] = {
	...{ id: 'choir', levelDb: [-60, -60], holdDb: [-60, -60], rmsDb: -60, gateDb: 0, compressorDb: 0, automaticDb: 0 },
	...{ clips: 0, faults: [], side: 'left' },
};
const mix: SoundReport['mix'] = {
	...{ levelDb: [0, 0], holdDb: [0, 0], momentary: -16, shortTerm: -16, integrated: -16, range: 3 },
	...{ truePeakDb: -1, limiterDb: 0, faults: [], side: 'left' },
};
const heard = (part: Partial<SoundReport>): SoundReport => ({ channels: [], mix, apart: [], echo: [], ...part });

describe('what is wrong', () => {
	it('is nothing while all is well', () => {
		expect(found({})).toEqual([]);
		expect(found({ show: off, heard: heard({}) })).toEqual([]);
	});

	it('has a name of its own each, also when the server is busy and cannot be reached', () => {
		const full = { code: 'diskFull' as const, about: {} };
		const all = keys({
			connected: false,
			isWatching: true,
			needsPress: true,
			engine: { engine: 'stopped', uplink: 'lost', machine: 'busy' },
			status: {
				...status,
				serverCores: 0.97,
				stored: false,
				unreadable: [{ what: 'scenes', name: 'Talk', problem: '' }],
				receiving: false,
				rates: [
					{ kbps: 900, plannedKbps: 2500 },
					{ kbps: 400, plannedKbps: 900 },
				],
				destinations: [
					{ ...idleStatus('ridge', AT), phase: 'lost', audience: { public: false, viewers: 0 } },
					{ ...idleStatus('valley', AT), phase: 'refused' },
				],
				recording: {
					...recording,
					phase: 'failed',
					fault: full,
					roomS: 60,
					elsewhere: true,
					tracks: ['a', 'b'].map((id) => ({ id, name: id, phase: 'failed', fault: full, bytes: 0 })),
				},
			},
			conditions: new Map([
				['lectern', { since: AT, fault: 'black' }],
				['console', { since: AT, fault: 'unplugged' }],
			]),
			heard: heard({ channels: [{ ...silent, faults: ['oneSide', 'hum'] }], mix: { ...mix, faults: ['silent'] } }),
		});
		expect(new Set(all).size).toBe(all.length);
		expect(all).toContain('unreachable');
		expect(all).toContain('serverBusy');
		expect(all).toContain('recordsElsewhere');
		expect(all).toHaveLength(23);
	});

	it('comes with what is grave first, and last what the machine gives up', () => {
		const list = found({
			engine: { machine: 'busy' },
			conditions: new Map([['lectern', { since: AT, fault: 'black' }]]),
			status: { ...status, holdingSince: AT - 4000 },
		});
		expect(list.map(({ key, isGrave }) => [key, isGrave])).toEqual([
			['holding', true],
			['source lectern', false],
			['machine', false],
		]);
	});

	it('is told by this machine’s clock, whatever the server’s is', () => {
		const ahead = { ...status, holdingSince: AT - 4000 };
		expect(found({ clockOffsetMs: 60_000, status: ahead })[0]).toMatchObject({ at: AT - 64_000 });
	});

	it('stays while a lost destination is tried again, but the first attempt is none', () => {
		const trying = { ...idleStatus('ridge', AT), phase: 'connecting' as const };
		const destinations = (fault: typeof trying.fault) =>
			keys({ status: { ...status, destinations: [{ ...trying, fault }] } });
		expect(destinations(null)).toEqual([]);
		expect(destinations({ code: 'closed', about: {} })).toEqual(['destination ridge']);
	});

	it('of what viewers see is found on air only', () => {
		const bad = { ...status, receiving: false, serverCores: 2, rates: [{ kbps: 1, plannedKbps: 2 }] };
		expect(keys({ status: bad })).toEqual(['noProgram', 'serverBusy', 'rate 0']);
		expect(keys({ status: bad, show: off })).toEqual([]);
	});
});

describe('a program that is black', () => {
	it('is named after five seconds, with what made it so', () => {
		expect(keys({ blackMs: 4900 })).toEqual([]);
		expect(found({ blackMs: 5000 })).toMatchObject([{ is: 'black', why: 'picture', isGrave: true }]);
		const nothing = withLive(on, { program: null });
		expect(found({ blackMs: 5000, show: nothing })).toMatchObject([{ why: 'nothing', isGrave: true }]);
		const asked = withLive(on, { black: true });
		expect(found({ blackMs: 5000, show: asked })).toMatchObject([{ why: 'asked', isGrave: false }]);
		// What viewers see instead is told already.
		expect(keys({ blackMs: 5000, status: { ...status, holdingSince: AT } })).toEqual(['holding']);
	});
});

describe('what is wrong with a guest', () => {
	const seat = plainSource('seat', 'Seat 1', { kind: 'seat', shows: 'camera', empty: 'name', reservedFor: null });
	const scene = plainScene('talk', 'Talk', [wholeLayer('layer', 'seat')]);
	const setup = withSetup(on, {
		sources: [seat],
		scenes: [scene],
		channels: [plainChannel('voice', 'seat', 'Seat 1')],
	});
	const ysolde = { ...newGuest('ysolde', 'Ysolde Brann'), isIn: true, seatId: 'seat' };
	const show = withLive(setup, { guests: [ysolde], program: 'talk' });
	const there: GuestPresence = {
		...{ id: 'ysolde', isThere: true, since: AT, line: null, said: [] },
		...{ muted: false, cameraOff: false, sharing: false, hand: false, battery: null, records: false },
	};
	const voice = (list: typeof silent.faults) => heard({ channels: [{ ...silent, id: 'voice', faults: list }] });
	const guests = (part: Partial<GuestPresence>) => [{ ...there, ...part }];

	it('is told by name: a line that is gone or loses much, no sound, too much of it', () => {
		expect(keys({ show, guests: guests({}) })).toEqual([]);
		expect(found({ show, guests: guests({ isThere: false }) })).toMatchObject([
			{ key: 'guest ysolde gone', is: 'guest', name: 'Ysolde Brann', isGrave: true },
		]);
		const line = {
			...{ availableKbps: 900, roundTripMs: 80, lost: 0.08 },
			...{ height: 360, fps: 24, isLess: true, echo: false },
		};
		expect(found({ show, guests: guests({ line }) })).toMatchObject([
			{ key: 'guest ysolde loses', lost: 0.08, isLess: true },
		]);
		for (const fault of ['frozen', 'noNewFrames'])
			expect(keys({ show, guests: guests({}), conditions: new Map([['seat', { since: 0, fault }]]) })).toEqual([
				'guest ysolde frozen',
			]);
		const weak = { ...line, lost: 0, echo: true };
		expect(keys({ show, guests: guests({ line: weak }) })).toEqual(['guest ysolde smaller', 'guest ysolde echo']);
		expect(keys({ show, guests: guests({}), heard: voice(['idle', 'clipping']) })).toEqual([
			'guest ysolde noSound',
			'guest ysolde tooLoud',
		]);
	});

	it('is nothing of an empty seat, of who is muted, or of who waits elsewhere', () => {
		expect(keys({ show: setup, guests: [], heard: voice(['idle']) })).toEqual([]);
		expect(keys({ show, guests: guests({ muted: true }), heard: voice(['idle']) })).toEqual([]);
		const waits = withLive(setup, { guests: [{ ...ysolde, seatId: null }] });
		expect(keys({ show: waits, guests: guests({ isThere: false }) })).toEqual([]);
		// Where viewers do not see or hear it, it is no alarm.
		const apart = withLive(setup, { guests: [ysolde], program: 'other' });
		const muted = withSetup(apart, { channels: [{ ...setup.setup.channels[0]!, muted: true }] });
		expect(found({ show: muted, guests: guests({ isThere: false }) })[0]).toMatchObject({ isGrave: false });
	});
});

describe('what is wrong with the sound', () => {
	const faults = (id: string, list: typeof silent.faults) => heard({ channels: [{ ...silent, id, faults: list }] });

	it('is a cable where there is one: not where a clip is over', () => {
		expect(keys({ heard: faults('mic', ['idle']) })).toEqual(['channel mic idle']);
		const film = plainSource('film', 'Film', { kind: 'clip', ...plainClip([wholeItem('m', 'Film', 1000)]) });
		const show = withSetup(on, {
			sources: [...on.setup.sources, film],
			channels: [...on.setup.channels, plainChannel('film', 'film', 'Film')],
		});
		expect(keys({ show, heard: faults('film', ['idle']) })).toEqual([]);
	});

	it('is no one-sidedness of a single microphone, or of what was put to one side', () => {
		expect(keys({ heard: faults('choir', ['oneSide']) })).toEqual(['channel choir oneSide']);
		expect(keys({ heard: faults('mic', ['oneSide', 'outOfPhase']) })).toEqual([]);
		const [mic, choir] = on.setup.channels;
		const aside = withSetup(on, { channels: [mic!, { ...choir!, strip: { ...choir!.strip, pan: -1 } }] });
		expect(keys({ show: aside, heard: faults('choir', ['oneSide']) })).toEqual([]);
		expect(keys({ heard: faults('gone', ['hum']) })).toEqual([]);
	});

	it('is all that somebody hears of who cares for the sound only', () => {
		const conditions = new Map([
			['lectern', { since: AT, fault: 'black' }],
			['console', { since: AT, fault: 'unplugged' }],
		]);
		expect(keys({ conditions, onlySound: true, isWatching: true })).toEqual(['source console']);
	});

	it('is judged by its loudness only after a minute', () => {
		const loudnessAfter = (ms: number) =>
			keys({ show: withLive(on, { broadcast: { ...broadcast, startedAt: AT - ms } }), heard: heard({}) });
		expect(loudnessAfter(59_000)).toEqual([]);
		expect(loudnessAfter(61_000)).toEqual(['loudness']);
	});
});

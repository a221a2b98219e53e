import { describe, expect, it } from 'vitest';
import type { SingleCommand } from '../show/command.ts';
import { carriedOf } from '../show/event/carried.ts';
import { plainChannel } from '../show/mix/mix.ts';
import { reduceAll } from '../show/reduce.ts';
import { plainCue } from '../show/runsheet/cue.ts';
import { plainScene, wholeLayer } from '../show/scenes/scene.ts';
import { plainClip, wholeItem } from '../show/clips/clip.ts';
import { plainCard } from '../show/sources/kinds/card.ts';
import { plainSource } from '../show/sources/source.ts';
import { emptyShow, type Destination, type ShowState } from '../show/state.ts';
import { looked, noFacts, readFacts, type Facts, type Look } from './facts.ts';
import { FRESH_MS, WATCHED_MS, type ConnectedStation, type Known } from './known.ts';
import { lineCheck, tally } from './line-check.ts';

/** 28 November 2026, 18:10. */
const NOW = Date.UTC(2026, 10, 28, 18, 10);
const destination: Destination = {
	...{
		id: 'ridge',
		name: 'Ridge Channel',
		address: 'rtmp://127.0.0.1/ridge',
		userName: '',
		hasKey: true,
		ticked: true,
	},
	...{ keyLasts: false, maxHeight: null, maxKbps: null, maxFps: null, accountUrl: 'http://127.0.0.1:1/account/ridge' },
	details: {
		title: 'Lantern Night',
		description: '',
		visibility: 'public',
		plannedAt: '2026-11-28T19:00',
		pictureId: null,
	},
	signed: null,
	watch: null,
	hostBroadcast: null,
};
const ready: SingleCommand[] = [
	{
		type: 'addSource',
		source: plainSource('lectern', 'Lectern', { kind: 'camera', deviceId: '1', label: 'HD camera', withSound: false }),
	},
	{
		type: 'addSource',
		source: plainSource('console', 'Console', {
			kind: 'microphone',
			deviceId: '2',
			label: 'USB audio',
			cleaned: false,
		}),
	},
	{
		type: 'addSource',
		source: plainSource('seat', 'Seat 1', { kind: 'seat', shows: 'camera', empty: 'nothing', reservedFor: null }),
	},
	{
		type: 'addSource',
		source: plainSource('begins', 'Starting soon', {
			kind: 'card',
			card: plainCard({ lines: [{ says: 'text', text: 'with {Speaker}' }] }),
		}),
	},
	{ type: 'addField', field: { id: 'speaker', name: 'Speaker', value: 'Maren Oakshaw' } },
	{ type: 'addScene', scene: plainScene('talk', 'Talk', [wholeLayer('layer', 'lectern')]) },
	{ type: 'addChannel', channel: { ...plainChannel('voice', 'console', 'Voice'), group: 'speech' } },
	{ type: 'addCue', cue: { ...plainCue('greeting', 'Greeting'), sceneId: 'talk', plannedAt: '19:00' } },
];
const look: Look = {
	sources: [{ id: 'lectern', state: 'live', fault: null, width: 1280, height: 720, fps: 30 }],
	channels: [{ id: 'voice', levelDb: -14, faults: [] }],
	...{ integrated: -16.4, load: 0.4, relieved: false, pressure: 'nominal', inputs: ['USB audio'] },
	machine: { at: NOW - 1000, verdict: 'ample', outdated: false },
};
const desk: ConnectedStation = {
	...{ page: 'desk', panelId: null, name: 'Bram Keld', deviceId: null, aheadMs: 12 },
	...{ battery: { charge: 0.9, isFed: true }, browser: { name: 'Chromium', version: 140 } },
};
const phone: ConnectedStation = { ...desk, page: 'tally', name: 'Gallery phone', deviceId: 'phone', browser: null };

function showWith(...more: SingleCommand[]): ShowState {
	const empty = emptyShow('lantern-night', 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 });
	const withHost = { ...empty, setup: { ...empty.setup, destinations: [destination] } };
	const line = { runsKbps: [20_000, 20_400, 19_900], at: NOW - 60_000 };
	return reduceAll({ ...withHost, live: { ...withHost.live, lines: [line] } }, [...ready, ...more], NOW - 3_600_000);
}
const seen: Facts = {
	...looked(noFacts(), look, NOW - 2000),
	destinations: { ridge: { at: NOW - 60_000, fault: null } },
	lips: { voice: NOW - 60_000 },
	...{ changedAt: NOW - 3_600_000, rehearsedAt: NOW - 1_800_000 },
};
const well: Known = {
	...{
		show: showWith(),
		facts: seen,
		stations: [desk, phone],
		devices: [{ id: 'phone', name: 'Gallery phone', page: 'tally' }],
	},
	links: [{ id: 'ysolde', name: 'Ysolde Brann', isGuest: true, expiresAt: NOW + 1, usesLeft: 1, uses: 1 }],
	guests: [{ id: 'ysolde', isThere: true }],
	media: new Map(),
	keys: new Map([['ridge', { typedAt: 2, sentAt: 1 }]]),
	...{ roomS: 100_000, stored: true, now: NOW },
};
const notGood = (part: Partial<Known> = {}) =>
	lineCheck({ ...well, ...part }).flatMap(({ state, what }) => (state === 'good' ? [] : [`${state} ${what.is}`]));
/** What is not good besides what never is by itself. */
const found = (part: Partial<Known>) => notGood(part).filter((line) => line !== 'weak publicStep');
const lookOf = (part: Partial<Look>): Partial<Known> => ({
	facts: { ...seen, ...looked(seen, { ...look, ...part }, NOW - 1000) },
});
const cameraAs = (part: Partial<Look['sources'][number]>) => lookOf({ sources: [{ ...look.sources[0]!, ...part }] });
const voiceAs = (part: Partial<Look['channels'][number]>) => lookOf({ channels: [{ ...look.channels[0]!, ...part }] });
const heardAt = (levelDb: number) =>
	looked(noFacts(), { ...look, channels: [{ ...look.channels[0]!, levelDb }] }, NOW - 1000);
const stationAs = (part: Partial<ConnectedStation>): Partial<Known> => ({ stations: [{ ...desk, ...part }, phone] });
const hostAs = (part: Partial<Destination>): Partial<Known> => {
	const { show } = well;
	return { show: { ...show, setup: { ...show.setup, destinations: [{ ...destination, ...part }] } } };
};
const details = destination.details!;

describe('the line check', () => {
	it('is green only for what was seen: all of an evening that is ready but the host’s own last step', () => {
		expect(notGood()).toEqual(['weak publicStep']);
		const counts = tally(lineCheck(well));
		expect(counts).toMatchObject({ weak: 1, wrong: 0, unseen: 0 });
		expect(counts.good).toBeGreaterThan(15);
	});

	it('is grey for what nobody has looked at, and for what was seen too long ago', () => {
		const later = { now: NOW + FRESH_MS };
		const grey = ['camera', 'channel', 'loudness', 'destination', 'lineUnseen', 'machine', 'load', 'rehearsal'];
		const dark = { facts: { ...noFacts(), lips: seen.lips } };
		for (const known of [later, { ...dark, show: { ...well.show, live: { ...well.show.live, lines: [] } } }])
			expect(found(known).filter((line) => line.startsWith('unseen'))).toEqual(grey.map((is) => `unseen ${is}`));
	});

	it('survives being stored, and is looked at again where it cannot be read', () => {
		expect(readFacts(JSON.parse(JSON.stringify(seen)))).toEqual(seen);
		for (const torn of [null, 'x', { ...seen, sources: { lectern: { at: 'yesterday' } } }])
			expect(readFacts(torn)).toEqual(noFacts());
	});

	it('does not hold for seen what nobody looks at any more: cables are pulled meanwhile', () => {
		const grey = ['camera', 'channel', 'load'];
		expect(found({ now: NOW + WATCHED_MS })).toEqual(grey.map((is) => `unseen ${is}`));
	});

	it('asks a host again that did not answer, and leads to the form where something was typed wrong', () => {
		const mendOf = (code: string, keys = well.keys) => {
			const destinations = { ridge: { at: NOW - 1, fault: { code, about: {} } as never } };
			const lines = lineCheck({ ...well, facts: { ...seen, destinations }, keys });
			const line = lines.find(({ key }) => key === 'delivery ridge')!;
			return `${line.state} ${line.mend?.does}`;
		};
		expect(mendOf('notListening')).toBe('wrong testDestination');
		expect(mendOf('said')).toBe('wrong editDestination');
		// A key that was typed since is another one.
		expect(mendOf('said', new Map([['ridge', { typedAt: NOW, sentAt: 0 }]]))).toBe('unseen testDestination');
	});

	const line = (at: number, ...runsKbps: number[]) => ({
		show: { ...well.show, live: { ...well.show.live, lines: [{ runsKbps, at }] } },
	});
	const emptied = (part: Partial<ShowState['setup']>) => ({
		show: { ...well.show, setup: { ...well.show.setup, ...part } },
	});
	const clip = plainSource('film', 'Season on the fell', {
		kind: 'clip',
		...plainClip([wholeItem('film-file', 'Season', 90_000)]),
	});
	const withClip = showWith({ type: 'addSource', source: clip });
	const carried = { ...well.show, live: { ...well.show.live, carried: carriedOf(well.show.setup) } };
	const pair = { stations: [desk] };
	it.each<[string, Partial<Known>, string[]]>([
		['no camera', emptied({ sources: [], channels: [], scenes: [], cues: [] }), ['wrong noCamera', 'wrong noSound']],
		['a camera that is lost', cameraAs({ state: 'lost' }), ['wrong cameraFault']],
		['a camera that is being opened', cameraAs({ state: 'opening' }), ['unseen cameraFault']],
		['a camera that is black', cameraAs({ fault: 'black' }), ['wrong cameraFault']],
		['a camera of another shape', cameraAs({ width: 1024, height: 768 }), ['weak cameraShape']],
		['a small camera', cameraAs({ width: 640, height: 360 }), ['weak cameraSmall']],
		['a slow camera', cameraAs({ fps: 15 }), ['weak cameraSlow']],
		[
			'a framing that is too narrow',
			{
				show: showWith(
					{
						type: 'addFraming',
						sourceId: 'lectern',
						framing: { id: 'hands', name: 'Hands', crop: { x: 0, y: 0, width: 0.4, height: 0.4 } },
					},
					{
						type: 'addScene',
						scene: plainScene('close', 'Close', [{ ...wholeLayer('layer', 'lectern'), framingId: 'hands' }]),
					},
				),
			},
			['weak cameraSoft'],
		],
		[
			'a channel that nobody heard',
			{ facts: { ...seen, channels: { voice: { ...seen.channels.voice!, heardAt: null } } } },
			['unseen channelSilent'],
		],
		['a channel that hums', voiceAs({ faults: ['hum'] }), ['weak channelFault']],
		['a channel with one side', voiceAs({ faults: ['oneSide'] }), ['weak channelFault']],
		['a soft channel', { facts: { ...seen, channels: heardAt(-42).channels } }, ['weak channelSoft']],
		['nothing of a pause of somebody who was loud enough', voiceAs({ levelDb: -42 }), []],
		['a harsh channel', voiceAs({ levelDb: -0.2 }), ['weak channelLoud']],
		[
			'the machine’s own microphone',
			{
				show: showWith(
					{
						type: 'addSource',
						source: plainSource('own', 'Laptop', {
							kind: 'microphone',
							deviceId: '3',
							label: 'Built-in microphone',
							cleaned: false,
						}),
					},
					{ type: 'addChannel', channel: plainChannel('own-voice', 'own', 'Laptop') },
				),
				facts: { ...seen, channels: { ...seen.channels, 'own-voice': seen.channels.voice! } },
			},
			['weak ownMicrophone'],
		],
		['lips that nobody measured', { facts: { ...seen, lips: {} } }, ['unseen lips']],
		['a soft evening', lookOf({ integrated: -29 }), ['weak loudness']],
		['no destination', hostAs({ ticked: false }), ['wrong noDestination']],
		[
			'a host that refuses',
			{ facts: { ...seen, destinations: { ridge: { at: NOW, fault: { code: 'loginWrong', about: {} } } } } },
			['wrong destinationFault'],
		],
		['last time’s key', { keys: new Map([['ridge', { typedAt: 1, sentAt: 2 }]]) }, ['weak oldKey']],
		['a key that lasts', { ...hostAs({ keyLasts: true }), keys: new Map([['ridge', { typedAt: 1, sentAt: 2 }]]) }, []],
		['last time’s title', hostAs({ details: { ...details, title: 'Mending Day' } }), ['weak detailsOld']],
		[
			'another day at the host',
			hostAs({ details: { ...details, plannedAt: '2026-11-21T19:00' } }),
			['wrong detailsDay'],
		],
		['nothing told to the host', hostAs({ details: null }), ['unseen detailsNone']],
		['a line that wavers', line(NOW - 1000, 20_000, 9000, 21_000), ['weak lineUnsteady']],
		['a line that is too thin', line(NOW - 1000, 300, 310, 305), ['wrong lineFull']],
		['nothing recorded', emptied({ delivery: { ...well.show.setup.delivery, records: false } }), ['weak recordingOff']],
		['a full disk', { roomS: 600 }, ['wrong littleRoom']],
		[
			'a machine that cannot follow',
			lookOf({ machine: { at: NOW, verdict: 'drops', outdated: false } }),
			['wrong machine'],
		],
		[
			'an event that has become heavier',
			lookOf({ machine: { at: NOW, verdict: 'ample', outdated: true } }),
			['unseen machine'],
		],
		['a busy machine', lookOf({ load: 0.95 }), ['wrong load']],
		['other programs', lookOf({ pressure: 'critical' }), ['weak load']],
		['a database that is away', { stored: false }, ['wrong database']],
		['a clock that is wrong', stationAs({ aheadMs: -900 }), ['weak clock']],
		['a desk on its battery', stationAs({ battery: { charge: 1, isFed: false } }), ['wrong power']],
		['an old browser', stationAs({ browser: { name: 'Chromium', version: 90 } }), ['wrong browser']],
		['a browser that makes no program', stationAs({ browser: { name: 'Firefox', version: 150 } }), ['wrong browser']],
		['no desk', { stations: [phone] }, ['unseen desk']],
		['no date', emptied({ startsAt: '' }), ['weak start']],
		['a day that is over', emptied({ startsAt: '2026-11-21T19:00' }), ['wrong detailsDay', 'weak start']],
		['a cue without its scene', emptied({ scenes: [] }), ['wrong sheetConflict']],
		['a sheet that is too long', emptied({ overAt: '19:00' }), ['weak sheetConflict']],
		['a clip without its file', { show: withClip }, ['wrong clipGone']],
		['a damaged clip', { show: withClip, media: new Map([['film-file', 'damaged']]) }, ['wrong clipDamaged']],
		['names of last time', { show: carried }, ['weak carried']],
		[
			'a field that says nothing',
			{ show: showWith({ type: 'changeField', field: { id: 'speaker', name: 'Speaker', value: '' } }) },
			['wrong fieldEmpty'],
		],
		['a change since the rehearsal', { facts: { ...seen, changedAt: NOW - 1000 } }, ['unseen rehearsal']],
		['a guest who is not here', { guests: [] }, ['unseen guest']],
		['a link that is over', { guests: [], links: [{ ...well.links[0]!, expiresAt: NOW - 1 }] }, ['wrong guestLink']],
		['a device that is not there', pair, ['unseen device']],
	])('says %s', (_, part, lines) => {
		expect(found(part)).toEqual(lines);
	});
});

/** The demo event: Lantern Night of the Hollin Fell Huts Association, with stand-ins for all that is outside. */
import { copyFile, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { TZDate } from '@date-fns/tz';
import { addWeeks, formatISO } from 'date-fns';
import { eq } from 'drizzle-orm';
import * as v from 'valibot';
import { addingClip } from '../core/media/adding.ts';
import { plainSettings } from '../core/media/media.ts';
import { plainChannel, plainMix, withPreset } from '../core/show/mix/mix.ts';
import type { SingleCommand } from '../core/show/command.ts';
import { reduceAll } from '../core/show/reduce.ts';
import { timeOfDay } from '../core/show/runsheet/clock-time.ts';
import { plainCue, type Cue } from '../core/show/runsheet/cue.ts';
import { CUT, plainScene, wholeLayer } from '../core/show/scenes/scene.ts';
import { plainLook } from '../core/show/event/look.ts';
import { eventFrom, plainAsks } from '../core/show/templates/template.ts';
import { plainCard } from '../core/show/sources/kinds/card.ts';
import { plainClock } from '../core/show/sources/kinds/clock.ts';
import { plainSource } from '../core/show/sources/source.ts';
import { plainDelivery } from '../core/show/delivery/delivery.ts';
import { withLive, withSetup } from '../core/show/slice.ts';
import { emptyShow, type Setup, type ShowState } from '../core/show/state.ts';
import { readSong } from '../core/words/formats/read-song.ts';
import { profileSchema } from '../core/hosts/profile.ts';
import { savedOf, type SavedDestinations } from './access/saved-destinations.ts';
import type { Db } from './db/database.ts';
import { events } from './db/schema.ts';
import { insertEvent } from './events.ts';
import type { SignIns } from './hosts/sign-ins.ts';
import type { MediaLibrary } from './files/media-library.ts';
import type { Templates } from './templates/templates.ts';
import type { SongLibrary } from './words/song-library.ts';
import { serverTimeZone } from './time-zone.ts';

/** The demo takes place where the server is. */
const TIME_ZONE = serverTimeZone();

export const DEMO_EVENT = 'lantern-night';

const CAMERAS = [
	{ id: 'lectern', name: 'Lectern' },
	{ id: 'chapel-wide', name: 'Chapel wide' },
	{ id: 'choir-left', name: 'Choir left' },
] as const;

const FRAMINGS = [
	{ id: 'harmonium', name: 'Harmonium', of: 'chapel-wide', crop: { x: 0.56, y: 0.3, width: 0.34, height: 0.34 } },
	{ id: 'front-rows', name: 'Front rows', of: 'chapel-wide', crop: { x: 0.25, y: 0.5, width: 0.5, height: 0.5 } },
] as const;

/** Inputs of the console that go to the stream; its talkback does not. */
const CHANNELS = [
	{ id: 'lectern-mic', name: 'Lectern mic', inputs: [0], preset: 'speaking voice', gainDb: 0 },
	{ id: 'handheld', name: 'Handheld', inputs: [1], preset: 'speaking voice', gainDb: 0 },
	{ id: 'choir', name: 'Choir', inputs: [2, 3], preset: 'choir', gainDb: -4 },
	{ id: 'fiddle', name: 'Fiddle', inputs: [4], preset: 'music line', gainDb: -8 },
	{ id: 'harmonium', name: 'Harmonium', inputs: [5], preset: 'music line', gainDb: -10 },
	{ id: 'film', name: 'Film', inputs: [6, 7], preset: 'music line', gainDb: -60 },
	{ id: 'chapel-air', name: 'Chapel air', inputs: [8, 9], preset: 'audience', gainDb: -16 },
] as const;

const MASTER_GAIN_DB = 8;

const CARDS = [
	{
		id: 'starting-soon',
		name: 'Starting soon',
		lines: [{ says: 'text', text: 'Starting soon' }, { says: 'event' }, { says: 'date' }],
	},
	{
		id: 'thank-you',
		name: 'Thank you',
		lines: [{ says: 'text', text: 'Thank you' }, { says: 'organisation' }],
	},
	{
		id: 'back-shortly',
		name: 'Back shortly',
		lines: [{ says: 'text', text: 'Back shortly' }, { says: 'event' }],
	},
] as const;

/** Clips that ship with Bivvo, as files of the stand-ins. */
const CLIPS = [
	{ id: 'welcome-loop', name: 'Welcome loop', lengthMs: 12_000, gainDb: 13 },
	{ id: 'season-on-the-fell', name: 'Season on the fell', lengthMs: 90_000, gainDb: 11.5 },
	{ id: 'closing', name: 'Closing', lengthMs: 15_000, gainDb: 11 },
] as const;
const CLIP_ABOUT = {
	kind: 'video',
	picture: { width: 1280, height: 720, fps: 30, codec: 'avc1.64001f', alpha: false },
	sound: { codec: 'mp4a.40.2', sampleRate: 48_000, channels: 2 },
} as const;

/** When the demo begins, in minutes from now; null for the evening it is planned for. */
export type MinutesToStart = number | null;

/** Keys of the stand-in host, which are no secrets: its own table has them too. */
const DESTINATIONS = [
	{
		id: 'ridge-channel',
		name: 'Ridge Channel',
		app: 'ridge',
		key: 'ridge-lantern-1845',
		ticked: true,
		caps: { maxHeight: 1080, maxKbps: 6000, maxFps: null },
	},
	{
		id: 'valley-relay',
		name: 'Valley Relay',
		app: 'valley',
		key: 'valley-lantern-1845',
		ticked: false,
		caps: { maxHeight: 720, maxKbps: 1000, maxFps: null },
	},
	{
		id: 'members-page',
		name: 'Members’ Page',
		app: 'members',
		key: 'members-lantern-1845',
		ticked: false,
		caps: { maxHeight: 720, maxKbps: 4000, maxFps: null },
	},
] as const;
const VALLEY_LOGIN = { userName: 'hollin', password: 'carry-the-water' };

/** Words of the evening, files of the stand-ins. */
const SONGS = ['lamp-on-the-col.xml', 'carry-the-water.txt'];

/** Where the stand-in host is. */
export interface StandIn {
	rtmpPort: number;
	/** Of its web side, without a path; null where that is not known. */
	webUrl: string | null;
}

/** What the demo event is put into. */
export interface DemoParts {
	db: Db;
	destinations: SavedDestinations;
	media: MediaLibrary;
	songs: SongLibrary;
	templates: Templates;
	/** Where files of stand-ins lie. */
	standInsFolder: string;
	standIn: StandIn;
	minutesToStart: MinutesToStart;
	/** The day for which it is planned when `minutesToStart` is null, ISO 8601. */
	day: string;
}

/** Stores the demo event. @returns false when it is there already */
export async function seedDemo({
	db,
	destinations: saved,
	media,
	songs,
	templates,
	standInsFolder,
	standIn,
	minutesToStart,
	day,
}: DemoParts): Promise<boolean> {
	const found = await db.select({ id: events.id }).from(events).where(eq(events.id, DEMO_EVENT));
	if (found.length > 0) return false;
	for (const { id, name, lengthMs, gainDb } of CLIPS) {
		const file = path.join(standInsFolder, 'venue/media', `${id}.mp4`);
		const { size: bytes } = await stat(file);
		await media.add({ id, name, folder: 'Lantern Night', bytes, about: { ...CLIP_ABOUT, lengthMs } }, (to) =>
			copyFile(file, to),
		);
		await media.change(id, { settings: { ...plainSettings(), gainDb } });
	}
	for (const file of SONGS) {
		const song = readSong(await readFile(path.join(standInsFolder, 'words', file), 'utf8'), file);
		await songs.add(song);
	}
	const show = demoShow(standIn, minutesToStart === null ? plannedOn(day) : planOf(minutesToStart));
	await templates.make('Hut evening', plainAsks(show.setup), show, TEMPLATE);
	await insertEvent(db, show, { templateId: TEMPLATE, templateVersion: 1 });
	await insertEvent(db, mendingDay(show, day));
	for (const destination of show.setup.destinations) {
		const { key } = DESTINATIONS.find(({ id }) => id === destination.id)!;
		const password = destination.userName === '' ? '' : VALLEY_LOGIN.password;
		await saved.save(savedOf(destination), { key, password, token: '' });
	}
	if (standIn.webUrl !== null) await knowHost(saved.signIns, standIn.webUrl);
	return true;
}

/** The stand-in host tells its profile; nobody is signed in to it yet. */
async function knowHost(signIns: SignIns, webUrl: string): Promise<void> {
	const told: unknown = await fetch(`${webUrl}/oauth/profile`).then(
		(response) => response.json(),
		() => null,
	);
	const profile = v.safeParse(profileSchema, told);
	if (profile.success) await signIns.add(profile.output);
}

/** The monthly evening of the association, and another one that is made of it: nothing is written for that yet. */
const TEMPLATE = 'hut-evening';
function mendingDay(template: ShowState, after: string): ShowState {
	const startsAt = `${formatISO(addWeeks(after, 2), { representation: 'date' })}T14:00`;
	const answers = { title: 'Mending Day', startsAt, timeZone: TIME_ZONE, fields: { speaker: '' } };
	return { ...withSetup(eventFrom(template, 'mending-day', answers), { cues: [] }) };
}

/** Times of the evening, as times of day. */
interface Plan {
	/** Local time without zone. */
	startsAt: string;
	opens: string;
	countdown: string;
	start: string;
	over: string;
}

/** From 19:00 to 20:15. */
const EVENING_MS = 75 * 60_000;

/** As it is planned. */
function plannedOn(day: string): Plan {
	return { startsAt: `${day}T19:00`, opens: '18:45', countdown: '18:57', start: '19:00', over: '20:15' };
}

/** So that it can be watched now: the countdown takes the last third of the minutes that are left. */
function planOf(minutesToStart: number): Plan {
	const start = Date.now() + minutesToStart * 60_000;
	const at = (ms: number) => timeOfDay(Math.floor(ms / 1000) * 1000, TIME_ZONE);
	const date = new TZDate(start, TIME_ZONE);
	const day = [date.getFullYear(), date.getMonth() + 1, date.getDate()]
		.map((n) => String(n).padStart(2, '0'))
		.join('-');
	const countdownMs = Math.min(180_000, minutesToStart * 20_000);
	return {
		startsAt: `${day}T${at(start)}`,
		opens: at(start - minutesToStart * 60_000),
		countdown: at(start - countdownMs),
		start: at(start),
		over: at(start + EVENING_MS),
	};
}

/** Lines of the run sheet. */
function demoCues({ opens, countdown, start }: Plan): Cue[] {
	const line = (id: string, name: string, part: Partial<Cue>): Cue => ({ ...plainCue(id, name), ...part });
	const minutes = (n: number) => n * 60_000;
	return [
		line('before', 'Before the start', { heading: true }),
		line('starting-soon', 'Starting soon', {
			sceneId: 'starting-soon',
			plannedAt: opens,
			follow: { by: 'clock', time: countdown },
			note: 'House lights up, doors open',
		}),
		line('countdown', 'Countdown, harmonium low', {
			sceneId: 'countdown',
			plannedAt: countdown,
			follow: { by: 'clock', time: start },
		}),
		line('welcome', 'Welcome', {
			sceneId: 'welcome-loop-scene',
			plannedAt: start,
			follow: { by: 'clip', sourceId: 'welcome-loop' },
		}),
		line('evening', 'The evening', { heading: true }),
		line('greeting', 'Greeting at the lectern', {
			sceneId: 'lectern',
			shows: [{ overlayId: 'name', personId: 'maren' }],
			lengthMs: minutes(5),
			limitMs: minutes(7),
		}),
		line('lamp', 'Song: Lamp on the Col', {
			sceneId: 'chapel-wide',
			lengthMs: minutes(6),
			follow: { by: 'rotation', sceneIds: ['chapel-wide', 'choir-left'], everyMs: 12_000, variesMs: 3000 },
		}),
		line('talk', 'Talk with Cold Tarn', { sceneId: 'talk', lengthMs: minutes(15), limitMs: minutes(18) }),
		line('film', 'Film: Season on the fell', {
			sceneId: 'season-on-the-fell-scene',
			follow: { by: 'clip', sourceId: 'season-on-the-fell' },
		}),
		line('two-huts', 'Both huts, two windows', { sceneId: 'talk', lengthMs: minutes(12) }),
		line('draw', 'Draw of the lanterns', {
			sceneId: 'front-rows',
			lengthMs: minutes(12),
			shows: [{ overlayId: 'ticker' }],
		}),
		line('water', 'Song: Carry the Water', {
			sceneId: 'choir-left',
			hides: ['ticker'],
			lengthMs: minutes(6),
			follow: { by: 'rotation', sceneIds: ['choir-left', 'harmonium'], everyMs: 12_000, variesMs: 3000 },
		}),
		line('closing', 'Closing', {
			sceneId: 'closing-scene',
			follow: { by: 'clip', sourceId: 'closing' },
			endsBroadcast: true,
		}),
	];
}

/** Commands that let the demo event begin in some minutes, from the top of its run sheet. */
export function beginningIn(minutesToStart: number, { setup }: ShowState): SingleCommand[] {
	const plan = planOf(minutesToStart);
	const countdown = setup.sources.find(({ id }) => id === 'countdown');
	const known = demoCues(plan).filter(({ id }) => setup.cues.some((cue) => cue.id === id));
	return [
		{ type: 'setStart', startsAt: plan.startsAt, timeZone: TIME_ZONE },
		{ type: 'setOverAt', overAt: plan.over },
		{ type: 'resetSheet' },
		...known.map((cue): SingleCommand => ({ type: 'changeCue', cue })),
		...(countdown?.kind === 'clock'
			? [
					{
						type: 'changeSource' as const,
						source: { ...countdown, clock: { shows: 'countdownTo' as const, to: plan.startsAt } },
					},
				]
			: []),
	];
}

function demoShow({ rtmpPort, webUrl }: StandIn, plan: Plan): ShowState {
	const show = emptyShow(DEMO_EVENT, 'Lantern Night', plan.startsAt, { width: 1280, height: 720, fps: 30 });
	const setup: Partial<Setup> = {
		timeZone: TIME_ZONE,
		look: { ...plainLook(), family: 'hills', organisation: 'Hollin Fell Huts Association' },
		sources: [
			...CAMERAS.map(({ id, name }) => ({
				...plainSource(id, name, { kind: 'standInCamera', standIn: id }),
				framings: FRAMINGS.filter(({ of }) => of === id).map((framing) => ({
					id: framing.id,
					name: framing.name,
					crop: framing.crop,
				})),
			})),
			plainSource('console', 'Console', { kind: 'standInConsole', standIn: 'console' }),
			...CARDS.map(({ id, name, lines }) =>
				plainSource(id, name, {
					kind: 'card',
					card: plainCard({ lines: [...lines] }),
				}),
			),
			plainSource('countdown', 'Countdown', {
				kind: 'clock',
				...plainClock({ shows: 'countdownTo', to: plan.startsAt }, 'We begin in'),
			}),
		],
		scenes: [
			...CAMERAS.map(({ id, name }) => plainScene(id, name, [wholeLayer(`${id}-layer`, id)])),
			...FRAMINGS.map(({ id, name, of }) =>
				plainScene(id, name, [{ ...wholeLayer(`${id}-layer`, of), framingId: id }]),
			),
			plainScene('talk', 'Talk and chapel', [
				wholeLayer('talk-wide', 'chapel-wide'),
				{
					...wholeLayer('talk-lectern', 'lectern'),
					box: { x: 0.66, y: 0.06, width: 0.3, height: 0.3 },
					corner: 0.08,
					border: { width: 0.006, colour: '#ece7db' },
				},
			]),
			...CARDS.map(({ id, name }) => plainScene(id, name, [wholeLayer(`${id}-layer`, id)])),
			plainScene('countdown', 'Countdown', [wholeLayer('countdown-layer', 'countdown')]),
		],
		fields: [{ id: 'speaker', name: 'Speaker', value: 'Maren Oakshaw' }],
		hostDescription: 'With {Speaker}, songs by the choir, and a film of the season.',
		people: [
			{ id: 'maren', name: 'Maren Oakshaw', role: 'hut warden, Cold Tarn' },
			{ id: 'corin', name: 'Corin Vale', role: 'choir' },
		],
		overlays: [
			{
				id: 'name',
				name: 'Who is speaking',
				kind: 'lowerThird',
				reach: 'every',
				showMs: 8000,
				move: 'rise',
				personId: 'maren',
				side: 'left',
			},
			{
				id: 'ticker',
				name: 'Lantern draw',
				kind: 'ticker',
				reach: 'every',
				showMs: 0,
				move: 'fade',
				text: 'The draw of the lanterns follows the film. All proceeds go to the four huts of the Hollin Fell Huts Association: Cold Tarn, Three Larches, Nether Hollin and the col.',
			},
		],
		// Its console is set for the hall, which is softer than a stream should be.
		mix: { ...plainMix(), master: { ...plainMix().master, gainDb: MASTER_GAIN_DB } },
		channels: CHANNELS.map(({ id, name, inputs, preset, gainDb }) => ({
			...withPreset(plainChannel(id, 'console', name, [...inputs]), preset),
			gainDb,
		})),
		transition: { ...CUT, kind: 'fade', durationMs: 500 },
		delivery: { ...plainDelivery(), holdingId: 'back-shortly' },
		destinations: DESTINATIONS.map(({ id, name, app, ticked, caps }) => ({
			id,
			name,
			address: `rtmp://127.0.0.1:${rtmpPort}/${app}`,
			accountUrl: webUrl && `${webUrl}/account/${app}`,
			userName: id === 'valley-relay' ? VALLEY_LOGIN.userName : '',
			hasKey: true,
			keyLasts: false,
			ticked,
			signed: null,
			watch: null,
			details: null,
			hostBroadcast: null,
			...caps,
		})),
	};
	const made = withLive(withSetup(show, setup), { program: 'lectern', next: 'chapel-wide' });
	const clips = CLIPS.flatMap(({ id, name, lengthMs, gainDb }) =>
		addingClip(id, name, [
			{
				id,
				name,
				folder: '',
				bytes: 0,
				addedAt: 0,
				about: { ...CLIP_ABOUT, lengthMs },
				analysis: null,
				settings: { ...plainSettings(), gainDb },
			},
		]),
	);
	const { setup: all } = reduceAll(made, clips, 0);
	// What the hall's console lacks is added behind it; clips do not lack it.
	const isClips = (sourceId: string) => CLIPS.some(({ id }) => id === sourceId);
	const channels = all.channels.map((each) => (isClips(each.sourceId) ? { ...each, gainDb: -MASTER_GAIN_DB } : each));
	return withSetup({ ...made, setup: all }, { channels, cues: demoCues(plan), overAt: plan.over });
}

/** The demo event: Lantern Night of the Hollin Fell Huts Association, with stand-ins for all that is outside. */
import { eq } from 'drizzle-orm';
import { plainChannel, plainMix, withPreset } from '../core/show/mix/mix.ts';
import { CUT, plainScene, wholeLayer } from '../core/show/scenes/scene.ts';
import { plainSource } from '../core/show/sources/source.ts';
import { plainDelivery } from '../core/show/delivery/delivery.ts';
import { withLive, withSetup } from '../core/show/slice.ts';
import { emptyShow, type Setup, type ShowState } from '../core/show/state.ts';
import { savedOf, type SavedDestinations } from './access/saved-destinations.ts';
import type { Db } from './db/database.ts';
import { events } from './db/schema.ts';
import { insertEvent } from './events.ts';

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

const CARDS = [
	{
		id: 'starting-soon',
		name: 'Starting soon',
		lines: [{ says: 'text', text: 'Starting soon' }, { says: 'event' }, { says: 'date' }],
	},
	{
		id: 'thank-you',
		name: 'Thank you',
		lines: [
			{ says: 'text', text: 'Thank you' },
			{ says: 'text', text: 'Hollin Fell Huts Association' },
		],
	},
	{
		id: 'back-shortly',
		name: 'Back shortly',
		lines: [{ says: 'text', text: 'Back shortly' }, { says: 'event' }],
	},
] as const;

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

/** Where the stand-in host is. */
export interface StandIn {
	rtmpPort: number;
	/** Of its web side, without a path; null where that is not known. */
	webUrl: string | null;
}

/** Stores the demo event unless it is there already. */
export async function seedDemo(db: Db, saved: SavedDestinations, standIn: StandIn): Promise<void> {
	const found = await db.select({ id: events.id }).from(events).where(eq(events.id, DEMO_EVENT));
	if (found.length > 0) return;
	const show = demoShow(standIn);
	await insertEvent(db, show);
	for (const destination of show.setup.destinations) {
		const { key } = DESTINATIONS.find(({ id }) => id === destination.id)!;
		const password = destination.userName === '' ? '' : VALLEY_LOGIN.password;
		await saved.save(savedOf(destination), { key, password, token: '' });
	}
}

function demoShow({ rtmpPort, webUrl }: StandIn): ShowState {
	const show = emptyShow(DEMO_EVENT, 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 });
	const setup: Partial<Setup> = {
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
					card: { layout: 'centred', lines: [...lines], paper: '#12161c', ink: '#ece7db' },
				}),
			),
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
		],
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
		mix: { ...plainMix(), master: { ...plainMix().master, gainDb: 8 } },
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
			ticked,
			details: null,
			...caps,
		})),
	};
	return withLive(withSetup(show, setup), { program: 'lectern', next: 'chapel-wide' });
}

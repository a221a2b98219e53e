import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import type { Command } from '../command.ts';
import { reduce, reduceAll, tryReduce } from '../reduce.ts';
import { plainChannel } from '../mix/mix.ts';
import { plainScene, wholeLayer, type Layer } from '../scenes/scene.ts';
import { showStateSchema } from '../show-schema.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow, type ShowState } from '../state.ts';
import { addingSeat, namingGuest } from './adding.ts';
import { firstFreeSeat } from './commands.ts';
import {
	FOR_MUSIC,
	guestIn,
	LARGEST_PICTURE,
	mostOfGuests,
	pixelsOfGuest,
	situationOf,
	wantedPicture,
} from './guest.ts';

const seat = (id: string, shows: 'camera' | 'screen' = 'camera') =>
	plainSource(id, id, { kind: 'seat', shows, empty: 'name', reservedFor: null });
const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
/** Two seats, one of which is in a scene, and two people at the door. */
const arrived = reduceAll(
	empty,
	[
		...[seat('cold-tarn'), seat('larches'), seat('sheet', 'screen')].map((source): Command => ({
			type: 'addSource',
			source,
		})),
		...['cold-tarn', 'larches'].map((id): Command => ({
			type: 'addChannel',
			channel: { ...plainChannel(`${id}-voice`, id, id), follow: 'onAir' },
		})),
		{ type: 'addScene', scene: plainScene('talk', 'Talk', [wholeLayer('layer', 'cold-tarn')]) },
		{ type: 'guestArrived', guestId: 'ysolde', name: 'Ysolde Brann' },
		{ type: 'guestArrived', guestId: 'pello', name: 'Pello Arrizun' },
	],
	0,
);
const after = (...commands: Command[]) => reduceAll(arrived, commands, 0);
const seatsOf = ({ live }: ShowState) => live.guests.map(({ id, isIn, seatId }) => [id, isIn, seatId]);
const place = (guestId: string, seatId: string | null): Command => ({ type: 'placeGuest', guestId, seatId });
const of = (state: ShowState, guestId: string) =>
	situationOf(
		state,
		state.live.guests.find(({ id }) => id === guestId)!,
	);
const begin: Command = { type: 'startBroadcast', broadcastId: 'b' };

describe('guests', () => {
	it('wait until somebody lets them in, to the green room or to a seat', () => {
		expect(seatsOf(arrived)).toEqual([
			['ysolde', false, null],
			['pello', false, null],
		]);
		expect(of(arrived, 'ysolde')).toEqual({ is: 'waiting' });
		expect(of(after(place('ysolde', null)), 'ysolde')).toEqual({ is: 'greenRoom', at: null });
		expect(of(after(place('ysolde', 'cold-tarn')), 'ysolde')).toEqual({ is: 'ready', at: null });
		expect(v.is(showStateSchema, after(place('ysolde', 'cold-tarn')))).toBe(true);
	});

	it('are on air where their seat is in the program, as far as they are seen and heard', () => {
		const on = after(place('ysolde', 'cold-tarn'), place('pello', 'larches'), { type: 'take', sceneId: 'talk' }, begin);
		expect(of(on, 'ysolde')).toEqual({ is: 'onAir', seen: true, heard: true });
		expect(of(on, 'pello')).toEqual({ is: 'ready', at: null });
		const change = (part: object) => ({ type: 'changeGuest', guestId: 'ysolde', ...part }) as Command;
		const unheard = reduceAll(on, [change({ heard: false })], 0);
		expect(of(unheard, 'ysolde')).toEqual({ is: 'onAir', seen: true, heard: false });
		expect(of(reduceAll(unheard, [change({ seen: false })], 0), 'ysolde')).toEqual({ is: 'ready', at: null });
		const with_ = (...commands: Command[]) => of(reduceAll(on, commands, 0), 'ysolde');
		expect(with_({ type: 'setHush', hushed: true })).toMatchObject({ seen: true, heard: false });
		expect(with_({ type: 'setMute', channelId: 'cold-tarn-voice', muted: true })).toMatchObject({ heard: false });
		expect(with_({ type: 'setBlack', black: true })).toEqual({ is: 'onAir', seen: false, heard: true });
		// Whoever mixes may open a voice without its picture.
		const voice = { ...on.setup.channels[1]!, follow: 'always' as const };
		const heard = reduceAll(on, [{ type: 'changeChannel', channel: voice }], 0);
		expect(of(heard, 'pello')).toEqual({ is: 'onAir', seen: false, heard: true });
		// Nothing goes out before the broadcast.
		expect(of(after(place('ysolde', 'cold-tarn'), { type: 'take', sceneId: 'talk' }), 'ysolde').is).toBe('ready');
	});

	it('have a seat each: whoever had it goes to the green room, and back with undo', () => {
		const first = after(place('ysolde', 'cold-tarn'));
		const { state, inverse } = reduce(first, place('pello', 'cold-tarn'), 0);
		expect(seatsOf(state)).toEqual([
			['ysolde', true, null],
			['pello', true, 'cold-tarn'],
		]);
		// Pello has been let in: that is not taken back.
		expect(seatsOf(reduceAll(state, inverse, 0))).toEqual([
			['ysolde', true, 'cold-tarn'],
			['pello', true, null],
		]);
		expect(firstFreeSeat(state)).toBe('larches');
		expect(firstFreeSeat(reduceAll(state, [place('ysolde', 'larches')], 0))).toBeNull();
	});

	it('come to the seat that was made for them, which nobody else is offered', () => {
		const phone = plainSource('phone', 'Phone 1', {
			kind: 'seat',
			shows: 'camera',
			empty: 'name',
			reservedFor: 'link',
		});
		const state = reduceAll(arrived, [{ type: 'addSource', source: phone }], 0);
		const come = reduceAll(state, [{ type: 'guestArrived', guestId: 'link', name: 'Phone 1' }], 0);
		expect(seatsOf(come).at(-1)).toEqual(['link', true, 'phone']);
		const full = reduceAll(state, [place('ysolde', 'cold-tarn'), place('pello', 'larches')], 0);
		expect([firstFreeSeat(state), firstFreeSeat(full)]).toEqual(['cold-tarn', null]);
	});

	it('can see a scene that is chosen for them, as long as there is one', () => {
		const scene = plainScene('view', 'View', []);
		const made = reduceAll(arrived, [{ type: 'addScene', scene }], 0);
		const chosen = reduce(made, { type: 'setGuestScene', sceneId: 'view' }, 0);
		expect(chosen.state.live.guestScene).toBe('view');
		expect(reduceAll(chosen.state, chosen.inverse, 0).live.guestScene).toBeNull();
		expect(tryReduce(made, { type: 'setGuestScene', sceneId: 'none' }, 0)).toMatchObject({ refused: { code: 'gone' } });
		expect(reduceAll(chosen.state, [{ type: 'removeScene', sceneId: 'view' }], 0).live.guestScene).toBeNull();
	});

	it('are asked for so many pixels at most, whichever scene is on', () => {
		// One fills the program, and the other Next; without a scene they are seen at the desk alone.
		const [full, small] = [LARGEST_PICTURE, { height: 360, fps: 15 }].map(pixelsOfGuest);
		expect(full).toBeCloseTo(1280 * 720 * 30, 3);
		const scene = (id: string, seatId: string): Command => ({
			type: 'addScene',
			scene: plainScene(id, id, [wholeLayer(`${id}-layer`, seatId)]),
		});
		const none = reduceAll(arrived, [{ type: 'removeScene', sceneId: 'talk' }], 0);
		expect(mostOfGuests(none)).toBe(2 * small!);
		const one = reduceAll(none, [scene('one', 'cold-tarn')], 0);
		expect(mostOfGuests(one)).toBe(full! + small!);
		expect(mostOfGuests(reduceAll(one, [scene('two', 'larches')], 0))).toBe(2 * full!);
	});

	it('keep their seat when their line breaks, and lose it with the seat', () => {
		const back = after(place('ysolde', 'cold-tarn'), { type: 'guestArrived', guestId: 'ysolde', name: 'Ysolde' });
		expect(seatsOf(back)[0]).toEqual(['ysolde', true, 'cold-tarn']);
		expect(back.live.guests[0]!.name).toBe('Ysolde');
		const gone = reduceAll(
			back,
			[
				{ type: 'removeScene', sceneId: 'talk' },
				{ type: 'removeSource', sourceId: 'cold-tarn' },
			],
			0,
		);
		expect(seatsOf(gone)[0]).toEqual(['ysolde', true, null]);
		const left = reduceAll(back, [{ type: 'guestLeft', guestId: 'ysolde' }], 0);
		expect(guestIn(left, 'cold-tarn')).toBeNull();
	});

	it('show a screen in a place of its own, and nothing else there', () => {
		const screen = (seatId: string | null): Command => ({ type: 'placeScreen', guestId: 'ysolde', seatId });
		const shared = after(place('ysolde', 'cold-tarn'), screen('sheet'));
		expect(guestIn(shared, 'sheet')?.id).toBe('ysolde');
		expect(tryReduce(shared, screen('larches'), 0)).toEqual({ refused: { code: 'gone', about: { what: 'seat' } } });
		expect(tryReduce(shared, place('pello', 'sheet'), 0)).toEqual({
			refused: { code: 'gone', about: { what: 'seat' } },
		});
		const taken = reduce(shared, { type: 'placeScreen', guestId: 'pello', seatId: 'sheet' }, 0);
		expect(guestIn(taken.state, 'sheet')?.id).toBe('pello');
		expect(guestIn(reduceAll(taken.state, taken.inverse, 0), 'sheet')?.id).toBe('ysolde');
	});

	it('are counted in until they have another place, and treated as musicians when asked', () => {
		const counted = after(place('ysolde', null), { type: 'countIn', guestId: 'ysolde', at: 60_000 });
		expect(of(counted, 'ysolde')).toEqual({ is: 'greenRoom', at: 60_000 });
		expect(of(reduceAll(counted, [place('ysolde', 'cold-tarn')], 0), 'ysolde')).toEqual({ is: 'ready', at: null });
		const music = reduce(counted, { type: 'changeGuest', guestId: 'ysolde', treatment: FOR_MUSIC }, 0);
		expect(music.state.live.guests[0]!.treatment).toEqual(FOR_MUSIC);
		expect(reduceAll(music.state, music.inverse, 0)).toEqual(counted);
	});

	it('send no larger a picture than is used', () => {
		const wanted = (state: ShowState, coming: string | null = null) =>
			wantedPicture(state, state.live.guests[0]!, coming).height;
		expect(wanted(arrived)).toBe(180);
		expect(wanted(after(place('ysolde', null)))).toBe(360);
		const seated = after(place('ysolde', 'cold-tarn'));
		expect(wanted(seated)).toBe(360);
		expect(wanted(seated, 'talk')).toBe(720);
		expect(wanted(reduceAll(seated, [{ type: 'setNext', sceneId: 'talk' }], 0))).toBe(720);
		expect(wanted(reduceAll(seated, [{ type: 'take', sceneId: 'talk' }], 0))).toBe(720);
	});

	it('send half of the lines where they are shown half as large, and more where a part of them is', () => {
		const seated = after(place('ysolde', 'cold-tarn'));
		const shownIn = (part: Partial<Layer>) => {
			const scene = plainScene('small', 'Small', [{ ...wholeLayer('small-layer', 'cold-tarn'), ...part }]);
			const state = reduceAll(seated, [{ type: 'addScene', scene }], 0);
			return wantedPicture(state, state.live.guests[0]!, 'small').height;
		};
		const half = { x: 0, y: 0.25, width: 0.5, height: 0.5 };
		expect(shownIn({ box: half })).toBe(360);
		expect(shownIn({ box: { ...half, width: 0.75, height: 0.75 } })).toBe(540);
		expect(shownIn({ box: { ...half, height: 1 }, fit: 'fill' })).toBe(720);
		expect(shownIn({ box: half, crop: { x: 0.25, y: 0.25, width: 0.5, height: 0.5 } })).toBe(720);
	});

	it('get a seat with a scene, a voice that is heard with the picture, and both recorded under their name', () => {
		const made = reduceAll(empty, [addingSeat(empty, 'one', 'Seat 1', 'camera')], 0);
		expect(made.setup.channels).toMatchObject([{ sourceId: 'one', follow: 'onAir', group: 'speech' }]);
		expect(made.setup.scenes[0]!.layers[0]!.sourceId).toBe('one');
		const on = reduceAll(
			made,
			[{ type: 'guestArrived', guestId: 'ysolde', name: 'Ysolde Brann' }, place('ysolde', 'one'), begin],
			0,
		);
		expect(on.live.broadcast!.tracks.map(({ kind, name }) => [kind, name])).toEqual([
			['source', 'Ysolde Brann'],
			['channel', 'Ysolde Brann'],
		]);
		const screen = reduceAll(made, [addingSeat(made, 'two', 'Screen', 'screen')], 0);
		expect(screen.setup.channels).toHaveLength(1);
		expect(screen.setup.delivery.apart).toEqual({ sourceIds: ['one', 'two'], channelIds: ['one-channel'] });
	});

	it('are named in the lower third, as people of the event', () => {
		const guest = arrived.live.guests[0]!;
		expect(namingGuest(arrived, guest, 'new')).toBeNull();
		const overlay = {
			...{ id: 'name', name: 'Who is speaking', kind: 'lowerThird' as const, reach: 'every' as const, showMs: 0 },
			...{ move: 'rise' as const, personId: null, side: 'left' as const },
		};
		const third = after({ type: 'addOverlay', overlay });
		const named = reduceAll(third, [namingGuest(third, guest, 'new')!], 0);
		expect(named.setup.people).toEqual([{ id: 'new', name: 'Ysolde Brann', role: '' }]);
		expect(named.setup.overlays[0]).toMatchObject({ personId: 'new' });
		expect(named.live.shown.name).toBeDefined();
		expect(reduceAll(named, [namingGuest(named, guest, 'other')!], 0).setup.people).toHaveLength(1);
	});

	it('are no more than there can be', () => {
		const many = Array.from({ length: 30 }, (_, i): Command => ({ type: 'guestArrived', guestId: `g${i}`, name: 'G' }));
		expect(after(...many).live.guests).toHaveLength(20);
		expect(tryReduce(arrived, { type: 'countIn', guestId: 'nobody', at: null }, 0)).toEqual({
			refused: { code: 'gone', about: { what: 'guest' } },
		});
	});
});

import { describe, expect, it } from 'vitest';
import type { FromGuest, ToGuest } from '../../core/guests/messages.ts';
import type { Command } from '../../core/show/command.ts';
import { reduceAll } from '../../core/show/reduce.ts';
import { plainSource } from '../../core/show/sources/source.ts';
import { emptyShow } from '../../core/show/state.ts';
import type { View } from '../../core/watch/views.ts';
import { Guests } from './guests.ts';

/** An event with one seat, and a way to be a guest of it. */
function event() {
	let state = reduceAll(
		emptyShow('lantern-night', 'Lantern Night', '2026-11-28T19:00', { width: 1280, height: 720, fps: 30 }),
		[
			{
				type: 'addSource',
				source: plainSource('seat', 'Seat', { kind: 'seat', shows: 'camera', empty: 'name', reservedFor: null }),
			},
		],
		0,
	);
	let desk: string | null = 'desk-1';
	const toDesk: unknown[] = [];
	const tell = (...commands: Command[]) => {
		state = reduceAll(state, commands, 0);
		guests.follow();
	};
	const guests: Guests = new Guests({
		state: () => state,
		desk: () => desk,
		submit: (command) => tell(command),
		tellDesk: (message) => toDesk.push(message),
		changed: () => {},
		iceServers: (id) => [{ urls: ['turn:relay.example:3478'], username: `later:${id}`, credential: 'x' }],
	});
	const come = (id: string) => {
		const heard: ToGuest[] = [];
		const page = {
			id,
			closed: false,
			watches: null as View | null,
			watch: (view: View | null) => void (page.watches = view),
			send: (message: ToGuest) => heard.push(message),
			close: () => void (page.closed = true),
		};
		guests.join(page);
		const say = (message: FromGuest) => guests.handle(page, message);
		const last = <T extends ToGuest['type']>(type: T) =>
			heard.findLast((each): each is Extract<ToGuest, { type: T }> => each.type === type);
		return { page, heard, say, last };
	};
	const moveDesk = (to: string | null) => {
		desk = to;
		guests.follow();
	};
	return { guests, come, tell, toDesk, moveDesk, state: () => state };
}
const offer = { is: 'description', type: 'offer', sdp: 'v=0' } as const;

describe('guests of an event', () => {
	it('read what viewers write when they have been let in, and want it', () => {
		const { guests, come, tell } = event();
		const ysolde = come('ysolde');
		ysolde.say({ type: 'knock', name: 'Ysolde Brann' });
		ysolde.say({ type: 'readViewers', wanted: true });
		guests.viewers = [{ from: 'Anselm', text: 'Good evening', at: 1 }];
		expect(ysolde.last('viewers')).toBeUndefined();
		tell({ type: 'placeGuest', guestId: 'ysolde', seatId: null });
		guests.viewers = [{ from: 'Anselm', text: 'Good evening', at: 1 }];
		expect(ysolde.last('viewers')!.wrote).toEqual([{ from: 'Anselm', text: 'Good evening', at: 1 }]);
		const before = ysolde.heard.length;
		guests.viewers = [{ from: 'Anselm', text: 'Good evening', at: 1 }];
		expect(ysolde.heard).toHaveLength(before);
		// Hidden by the crew.
		guests.viewers = [];
		expect(ysolde.last('viewers')!.wrote).toEqual([]);
		guests.viewers = [{ from: 'Anselm', text: 'Snow!', at: 2 }];
		ysolde.say({ type: 'readViewers', wanted: false });
		expect(ysolde.last('viewers')!.wrote).toEqual([]);
	});

	it('see the program when they have been let in, and want it', () => {
		const { come, tell } = event();
		const ysolde = come('ysolde');
		ysolde.say({ type: 'knock', name: 'Ysolde Brann' });
		ysolde.say({ type: 'watch', view: 'program' });
		expect(ysolde.page.watches).toBeNull();
		tell({ type: 'placeGuest', guestId: 'ysolde', seatId: null });
		ysolde.say({ type: 'watch', view: 'program' });
		expect(ysolde.page.watches).toBe('program');
		ysolde.say({ type: 'watch', view: null });
		expect(ysolde.page.watches).toBeNull();
	});

	it('are told where they are, whenever that changes, and nothing of anybody else', () => {
		const { come, tell, moveDesk } = event();
		const ysolde = come('ysolde');
		expect(ysolde.last('welcome')).toMatchObject({
			title: 'Lantern Night',
			name: '',
			iceServers: [{ username: 'later:ysolde' }],
		});
		expect(ysolde.last('situation')).toBeUndefined();
		ysolde.say({ type: 'knock', name: 'Ysolde Brann' });
		expect(ysolde.last('situation')).toMatchObject({ situation: { is: 'waiting' }, desk: 'desk-1' });
		tell({ type: 'placeGuest', guestId: 'ysolde', seatId: 'seat' });
		expect(ysolde.last('situation')).toMatchObject({ situation: { is: 'ready' } });
		const { length } = ysolde.heard;
		const pello = come('pello');
		pello.say({ type: 'knock', name: 'Pello' });
		tell({ type: 'setHush', hushed: true });
		expect(ysolde.heard).toHaveLength(length);
		moveDesk(null);
		expect(ysolde.last('situation')).toMatchObject({ desk: null });
		moveDesk('desk-2');
		expect(ysolde.last('situation')).toMatchObject({ desk: 'desk-2' });
		expect(JSON.stringify(pello.heard)).not.toContain('Ysolde');
	});

	it('find a way to the desk that is there, and to no other', () => {
		const { guests, come, toDesk } = event();
		const ysolde = come('ysolde');
		const signal = (desk: string) => ysolde.say({ type: 'signal', desk, connection: 'c1', signal: offer });
		signal('desk-1');
		// Who has not said their name is nobody yet.
		expect(toDesk).toEqual([]);
		ysolde.say({ type: 'knock', name: 'Ysolde' });
		signal('desk-0');
		expect(toDesk).toEqual([]);
		signal('desk-1');
		expect(toDesk).toEqual([
			{
				...{ type: 'guestSignal', guestId: 'ysolde', connection: 'c1', signal: offer },
				iceServers: [expect.objectContaining({ username: 'later:ysolde' })],
			},
		]);
		guests.signal('ysolde', 'c1', { is: 'description', type: 'answer', sdp: 'v=0' });
		expect(ysolde.last('signal')).toMatchObject({ connection: 'c1', signal: { type: 'answer' } });
		guests.signal('nobody', 'c1', offer);
	});

	it('keep their seat over a broken line, and give the link up to the device that opened it last', () => {
		const { guests, come, tell, state } = event();
		const first = come('ysolde');
		first.say({ type: 'knock', name: 'Ysolde' });
		tell({ type: 'placeGuest', guestId: 'ysolde', seatId: 'seat' });
		guests.leave(first.page);
		expect(guests.list).toMatchObject([{ id: 'ysolde', isThere: false }]);
		const second = come('ysolde');
		expect(second.last('welcome')).toMatchObject({ name: 'Ysolde' });
		expect(second.last('situation')).toMatchObject({ situation: { is: 'ready' } });
		const third = come('ysolde');
		expect(second.last('ended')).toEqual({ type: 'ended', why: 'elsewhere' });
		expect(second.page.closed).toBe(true);
		// What the former page still says counts no more, and its end ends nothing.
		second.say({ type: 'leave' });
		guests.leave(second.page);
		expect(guests.list).toMatchObject([{ isThere: true }]);
		third.say({ type: 'leave' });
		expect([guests.list, state().live.guests]).toEqual([[], []]);
	});

	it('are told that they were turned away, and their place is nobody’s', () => {
		const { guests, come, tell } = event();
		const ysolde = come('ysolde');
		ysolde.say({ type: 'knock', name: 'Ysolde' });
		tell({ type: 'removeGuest', guestId: 'ysolde' });
		expect(ysolde.last('ended')).toEqual({ type: 'ended', why: 'removed' });
		expect(ysolde.page.closed).toBe(true);
		expect(guests.list).toEqual([]);
	});

	it('write to the crew and are written to, one or all, and it is kept within bounds', () => {
		const { guests, come } = event();
		const [ysolde, pello] = [come('ysolde'), come('pello')];
		ysolde.say({ type: 'say', text: 'Can you hear me?' });
		guests.say('ysolde', 'We can.');
		guests.say(null, 'Five minutes.');
		expect(guests.list[0]!.said.map(({ by, text }) => [by, text])).toEqual([
			['guest', 'Can you hear me?'],
			['crew', 'We can.'],
			['crew', 'Five minutes.'],
		]);
		expect(pello.heard.flatMap((each) => (each.type === 'said' ? each.said.text : []))).toEqual(['Five minutes.']);
		for (let i = 0; i < 80; i++) ysolde.say({ type: 'say', text: `${i}` });
		expect(guests.list[0]!.said).toHaveLength(50);
		ysolde.say({
			type: 'about',
			muted: true,
			cameraOff: false,
			sharing: false,
			hand: true,
			battery: null,
			records: false,
		});
		expect(guests.list[0]).toMatchObject({ muted: true, hand: true });
	});
});

import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { plainSource, type Source } from '../core/show/sources/source.ts';
import type { SourcePicture } from './messages.ts';
import { SourceKeeper } from './source-keeper.ts';
import { sourceFault } from './sources/fault.ts';
import type { OpenKind } from './sources/open-kinds.ts';
import type { OpenSource, SourceContext } from './sources/open-source.ts';

/** Opens what it is asked for when the test says so. */
class Room {
	readonly opened: OpenSource[] = [];
	readonly closed: OpenSource[] = [];
	/** Set, the next sources cannot be opened. */
	broken = false;
	hasSound = true;
	mustMove = false;

	open = async (): Promise<OpenSource> => {
		await Promise.resolve();
		if (this.broken) throw sourceFault('notConnected', { label: 'Rail camera' });
		const open: OpenSource = {
			picture: { port: {} as MessagePort },
			...(this.hasSound && { sound: { disconnect: () => {} } as AudioNode }),
			mustMove: this.mustMove,
			onLost: null,
			close: () => void this.closed.push(open),
		};
		this.opened.push(open);
		return open;
	};
}

let room: Room;
let shown: string[];
/** Messages to the picture worker. */
let sent: number;
let keeper: SourceKeeper<{ disconnect: () => void }>;

beforeEach(() => {
	vi.useFakeTimers();
	room = new Room();
	shown = [];
	sent = 0;
	const device: OpenKind = { open: room.open, isDevice: true };
	keeper = new SourceKeeper({
		kinds: { camera: device, standInCamera: { open: room.open }, screen: { open: room.open, needsPerson: true } },
		context: { picture: { width: 1280, height: 720 } } as SourceContext,
		showPicture: ({ id }) => {
			shown.push(id);
			return ++sent;
		},
		hidePicture: (id) => void shown.splice(shown.indexOf(id), 1),
		split: () => ({ disconnect: () => {} }),
		onSound: () => {},
		onConditions: () => {},
		now: () => Date.now(),
	});
});
afterEach(() => {
	keeper.close();
	vi.useRealTimers();
});

const rail: Source = plainSource('rail', 'Rail', {
	kind: 'camera',
	deviceId: 'a',
	label: 'Rail camera',
	withSound: false,
});
const stage = plainSource('stage', 'Stage', { kind: 'standInCamera', standIn: 'lectern' });
const share = plainSource('share', 'Shared screen', { kind: 'screen' });
const settle = () => vi.advanceTimersByTimeAsync(0);
const picture = (sourceId: string, part: Partial<SourcePicture> = {}): SourcePicture => ({
	...{ sourceId, size: { width: 1280, height: 720 }, silentMs: 0, arrived: null },
	...{ problem: '', fault: null, uncertain: false },
	...part,
});
const conditionOf = (id: string) => keeper.conditions.get(id);

describe('a source', () => {
	it('is live with its first picture, and what the engine draws is at once', async () => {
		keeper.follow([stage, plainSource('ground', 'Ground', { kind: 'colour', colour: '#000000' })]);
		expect(conditionOf('ground')).toMatchObject({ state: 'live', width: 1280, height: 720 });
		expect(conditionOf('stage')?.state).toBe('opening');
		await settle();
		expect(shown).toEqual(['stage']);
		keeper.handlePictures([picture('stage', { size: null })], sent);
		expect(conditionOf('stage')?.state).toBe('opening');
		keeper.handlePictures([picture('stage')], sent);
		expect(conditionOf('stage')).toMatchObject({ state: 'live', fault: null, width: 1280 });
	});

	it('is opened anew when it comes from somewhere else, not when its name or its picture’s treatment changes', async () => {
		keeper.follow([rail]);
		await settle();
		keeper.follow([{ ...rail, name: 'Gallery rail', adjust: { ...rail.adjust, brightness: 0.2 } }]);
		await settle();
		expect(room.opened).toHaveLength(1);
		keeper.follow([{ ...rail, deviceId: 'b' } as Source]);
		await settle();
		expect([room.opened.length, room.closed.length]).toEqual([2, 1]);
		keeper.follow([]);
		expect([room.closed.length, shown]).toEqual([2, []]);
		expect(conditionOf('rail')).toBeUndefined();
	});

	it('that is removed while it opens is closed as soon as it is open', async () => {
		keeper.follow([rail]);
		keeper.follow([]);
		await settle();
		expect(room.closed).toEqual(room.opened);
		expect(shown).toEqual([]);
	});

	it('that cannot be opened says why and is tried again by itself', async () => {
		room.broken = true;
		keeper.follow([rail]);
		await settle();
		expect(conditionOf('rail')).toMatchObject({
			state: 'lost',
			fault: { code: 'notConnected', about: { label: 'Rail camera' } },
		});
		room.broken = false;
		await vi.advanceTimersByTimeAsync(2000);
		keeper.handlePictures([picture('rail')], sent);
		expect(conditionOf('rail')).toMatchObject({ state: 'live', fault: null });
	});

	it('that goes away is tried again, unless only a person can bring it back', async () => {
		keeper.follow([rail, share]);
		await settle();
		for (const open of [...room.opened]) open.onLost?.({ code: 'unplugged', about: { label: 'Rail camera' } });
		expect(conditionOf('rail')).toMatchObject({ state: 'lost', fault: { code: 'unplugged' } });
		expect(keeper.splitterOf('rail')).toBeNull();
		await vi.advanceTimersByTimeAsync(10_000);
		expect(room.opened).toHaveLength(3);
		expect(keeper.splitterOf('rail')).not.toBeNull();
		keeper.reopen();
		await settle();
		expect(room.opened).toHaveLength(4);
	});

	it('without new pictures is lost after a second, and a device is opened anew after five', async () => {
		keeper.follow([rail, stage, share]);
		await settle();
		const all = (silentMs: number) =>
			keeper.handlePictures(
				['rail', 'stage', 'share'].map((id) => picture(id, { silentMs })),
				sent,
			);
		all(900);
		expect(conditionOf('rail')?.state).toBe('live');
		all(1100);
		expect(conditionOf('rail')).toMatchObject({ state: 'lost', fault: { code: 'noNewFrames' } });
		// A shared window may well stand still.
		expect(conditionOf('share')).toMatchObject({ state: 'live', fault: null });
		all(5100);
		await vi.advanceTimersByTimeAsync(2000);
		expect(room.opened).toHaveLength(4);
	});

	it('that never sends its first picture is lost; a device is opened anew, a seat waits', async () => {
		room.mustMove = true;
		keeper.follow([rail, plainSource('share', 'Share', { kind: 'screen' })]);
		await settle();
		const all = (silentMs: number) =>
			keeper.handlePictures(
				[picture('rail', { size: null, silentMs }), picture('share', { size: null, silentMs })],
				sent,
			);
		all(9000);
		expect([conditionOf('rail')?.state, conditionOf('share')?.state]).toEqual(['opening', 'opening']);
		all(10_100);
		for (const id of ['rail', 'share'])
			expect(conditionOf(id)).toMatchObject({ state: 'lost', fault: { code: 'noNewFrames' } });
		await vi.advanceTimersByTimeAsync(2000);
		expect(room.opened).toHaveLength(3);
		keeper.handlePictures([picture('rail'), picture('share')], sent);
		expect([conditionOf('rail')?.state, conditionOf('share')?.state]).toEqual(['live', 'live']);
	});

	it('that was opened anew is not judged by what was told of it before', async () => {
		keeper.follow([rail]);
		await settle();
		keeper.handlePictures([picture('rail')], sent);
		const before = sent;
		room.opened[0]!.onLost!({ code: 'unplugged', about: { label: 'Rail camera' } });
		keeper.reopen();
		await settle();
		keeper.handlePictures([picture('rail')], before);
		expect(conditionOf('rail')?.state).toBe('lost');
		keeper.handlePictures([picture('rail')], sent);
		expect(conditionOf('rail')?.state).toBe('live');
	});

	it('that is black or stands still is live and says so, since when', async () => {
		keeper.follow([stage]);
		await settle();
		keeper.handlePictures([picture('stage')], sent);
		vi.setSystemTime(Date.now() + 5000);
		keeper.handlePictures([picture('stage', { fault: 'black' })], sent);
		const since = conditionOf('stage')!.since;
		expect(conditionOf('stage')).toMatchObject({ state: 'live', fault: { code: 'black' }, since: Date.now() });
		vi.setSystemTime(Date.now() + 5000);
		keeper.handlePictures([picture('stage', { fault: 'frozen' })], sent);
		expect(conditionOf('stage')).toMatchObject({ fault: { code: 'frozen' }, since });
		keeper.handlePictures([picture('stage', { uncertain: true })], sent);
		expect(conditionOf('stage')).toMatchObject({ fault: { code: 'pageLost' } });
		keeper.handlePictures([picture('stage', { problem: 'brings its picture as NV21' })], sent);
		expect(conditionOf('stage')).toMatchObject({ state: 'lost', fault: { code: 'unreadable' } });
	});

	it('stands still when somebody sits there whose picture does', async () => {
		room.mustMove = true;
		keeper.follow([plainSource('share', 'Share', { kind: 'screen' })]);
		await settle();
		keeper.handlePictures([picture('share')], sent);
		expect(conditionOf('share')).toMatchObject({ state: 'live', fault: null });
		keeper.handlePictures([picture('share', { silentMs: 1200 })], sent);
		expect(conditionOf('share')).toMatchObject({ state: 'live', fault: { code: 'frozen' } });
		keeper.handlePictures([picture('share', { fault: 'black' })], sent);
		expect(conditionOf('share')).toMatchObject({ fault: { code: 'black' } });
	});

	it('opens a source anew when what it comes from is another, also while it is being opened', async () => {
		keeper.follow([stage]);
		keeper.renew('stage');
		await settle();
		expect(room.opened).toHaveLength(2);
		expect(room.closed).toEqual([room.opened[0]]);
		keeper.renew('stage');
		await settle();
		expect(room.closed).toEqual(room.opened.slice(0, 2));
		expect(shown).toEqual(['stage']);
		keeper.renew('nobody');
	});
});

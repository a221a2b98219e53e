import { expect, it } from 'vitest';
import { plainDelivery } from './delivery.ts';
import { plainChannel } from '../mix/mix.ts';
import { reduceAll } from '../reduce.ts';
import { plainSource } from '../sources/source.ts';
import { withSetup } from '../slice.ts';
import { emptyShow, type ShowState } from '../state.ts';
import { planTracks, trackKbps, hasRoomFor } from './tracks.ts';

const names = ['Lectern', 'Chapel wide', 'Choir left', 'Rail', 'Door'];
const camera = (name: string) => plainSource(name, name, { kind: 'standInCamera', standIn: 'lectern' });

function show(cameras: number, height: 720 | 1080 = 720): ShowState {
	const picture =
		height === 720 ? ({ width: 1280, height, fps: 30 } as const) : ({ width: 1920, height, fps: 30 } as const);
	const empty = emptyShow('e', 'Lantern Night', '', picture);
	const console = plainSource('console', 'Console', { kind: 'standInConsole', standIn: 'console' });
	const card = plainSource('soon', 'Soon', { kind: 'colour', colour: '#000000' });
	return withSetup(empty, {
		sources: [...names.map(camera), console, card],
		channels: [plainChannel('mic', 'console', 'Lectern mic', [0]), plainChannel('choir', 'console', 'Choir', [2, 3])],
		delivery: {
			...plainDelivery(),
			apart: { sourceIds: [...names.slice(0, cameras), 'soon', 'gone'], channelIds: ['choir', 'mic'] },
		},
	});
}

it('pictures are as large as all of them together may be; sounds are whole', () => {
	const heights = [1, 2, 3, 4, 5].map((cameras) =>
		planTracks(show(cameras).setup).flatMap((track) => (track.kind === 'source' ? [track.maxHeight] : [])),
	);
	expect(heights).toEqual([[720], [540, 540], [540, 540, 540], Array(4).fill(360), Array(5).fill(360)]);
	expect(planTracks(show(1, 1080).setup)[0]).toMatchObject({
		kind: 'source',
		name: 'Lectern',
		maxHeight: 720,
		fps: 30,
	});
	const sounds = planTracks(show(0).setup);
	expect(sounds).toEqual([
		{ kind: 'channel', id: 'mic', name: 'Lectern mic', sides: 1 },
		{ kind: 'channel', id: 'choir', name: 'Choir', sides: 2 },
	]);
	expect(sounds.map(trackKbps)).toEqual([1152, 2304]);
});

it('they are fixed when a broadcast begins, and there are none when nothing is recorded', () => {
	const [one, none] = [true, false].map((records) => {
		const before = show(1);
		const state = withSetup(before, { delivery: { ...before.setup.delivery, records } });
		return reduceAll(state, [{ type: 'startBroadcast', broadcastId: 'b' }], 1).live.broadcast!.tracks;
	});
	expect(one!.map(({ name }) => name)).toEqual(['Lectern', 'Lectern mic', 'Choir']);
	expect(none).toEqual([]);
});

it('a disk that is nearly full keeps its room for the program', () => {
	expect(hasRoomFor(null, 8000)).toBe(true);
	expect(hasRoomFor(700e6, 8000)).toBe(true);
	expect(hasRoomFor(500e6, 8000)).toBe(false);
});

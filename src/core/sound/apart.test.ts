import { expect, it } from 'vitest';
import { plainChannel, type Channel } from '../show/mix/mix.ts';
import { plainSource } from '../show/sources/source.ts';
import { emptyShow } from '../show/state.ts';
import { comparable, judgeApart } from './apart.ts';

const channel = (id: string, sourceId: string, group: Channel['group'], delayMs = 0): Channel => {
	const plain = plainChannel(id, sourceId, id, [0]);
	return { ...plain, group, strip: { ...plain.strip, delayMs } };
};

it('cameras with sound are compared with spoken channels that come another way, and with nothing else', () => {
	const show = emptyShow('e', 'E', '', { width: 1280, height: 720, fps: 30 });
	show.setup.sources = [
		plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' }),
		plainSource('console', 'Console', { kind: 'standInConsole', standIn: 'console' }),
	];
	show.setup.channels = [
		channel('camera-mic', 'lectern', 'speech'),
		channel('lectern-mic', 'console', 'speech'),
		channel('choir', 'console', 'music'),
	];
	expect(comparable(show).map(({ camera, other }) => [camera.id, other.id])).toEqual([['camera-mic', 'lectern-mic']]);
});

it('is said where people notice it, by what is set now: 45 ms before the picture, 125 ms behind it', () => {
	const camera = channel('camera-mic', 'lectern', 'speech');
	const at = (behindMs: number, delayMs = 0) =>
		judgeApart(camera, channel('lectern-mic', 'console', 'speech', delayMs), behindMs);
	for (const fine of [0, 45, -125, 20]) expect(at(fine)).toBeNull();
	expect(at(46)).toEqual({ channelId: 'lectern-mic', sourceId: 'lectern', beforeMs: 46 });
	expect(at(-126)).toMatchObject({ beforeMs: -126 });
	// The delay that mends it, and too much of it.
	expect(at(180, 180)).toBeNull();
	expect(at(180, 320)).toMatchObject({ beforeMs: -140 });
});

import { expect, it } from 'vitest';
import { plainSource } from '../show/sources/source.ts';
import { emptyShow, type Picture, type ShowState } from '../show/state.ts';
import { lighterShow, withLighter } from './lighter.ts';

const [small, large, fast]: readonly [Picture, Picture, Picture] = [
	{ width: 1280, height: 720, fps: 30 },
	{ width: 1920, height: 1080, fps: 30 },
	{ width: 1920, height: 1080, fps: 60 },
];

const all = ['lectern', 'wide', 'choir'];

function show(picture: Picture, sourceIds: string[]): ShowState {
	const empty = emptyShow('lantern-night', 'Lantern Night', '', picture);
	const sources = all.map((id) => plainSource(id, id, { kind: 'standInCamera', standIn: id }));
	return withLighter({ ...empty, setup: { ...empty.setup, sources } }, { picture, sourceIds });
}
/** A machine that bears so many million pixels a second, a source apart being as much as half of 720p. */
const bears = (millions: number) => (each: ShowState) => {
	const { picture, delivery } = each.setup;
	const used = picture.fps * (picture.width * picture.height + delivery.apart.sourceIds.length * 460_800);
	const room = 1 - used / 1e6 / millions;
	return { room, share: 1, verdict: room < 0 ? 'drops' : room < 0.1 ? 'tight' : 'ample' } as const;
};

it('leaves alone what a machine bears, and what nobody has tested', () => {
	expect(lighterShow(show(large, all), bears(200))).toBeNull();
	expect(lighterShow(show(large, all), () => null)).toBeNull();
});

it('gives up what is recorded apart before viewers get a smaller picture, and no more of it than it must', () => {
	// 62.2 million for the program, 13.8 for each source.
	expect(lighterShow(show(large, all), bears(100))).toEqual({
		picture: large,
		sourceIds: ['lectern', 'wide'],
	});
	expect(lighterShow(show(large, all), bears(72))).toEqual({ picture: large, sourceIds: [] });
	// What is not there any more cannot be given up.
	expect(lighterShow(show(large, ['removed', ...all]), bears(100))).toMatchObject({ sourceIds: ['lectern', 'wide'] });
});

it('takes the largest picture that fits, with all that fits beside it', () => {
	expect(lighterShow(show(large, all), bears(65))).toEqual({
		picture: small,
		sourceIds: ['lectern', 'wide'],
	});
	// Half of the pictures a second before half of the lines.
	expect(lighterShow(show(fast, []), bears(75))).toEqual({ picture: large, sourceIds: [] });
});

it('says nothing where nothing helps, and what just fits where that is all there is', () => {
	expect(lighterShow(show(large, all), bears(20))).toBeNull();
	expect(lighterShow(show(small, []), bears(20))).toBeNull();
	expect(lighterShow(show(large, []), bears(29))).toEqual({ picture: small, sourceIds: [] });
});

import { describe, expect, it } from 'vitest';
import type { Command } from '../command.ts';
import { reduce, reduceAll, tryReduce } from '../reduce.ts';
import { emptyShow } from '../state.ts';
import { MOST_CREW_MESSAGES, unseenFor, type CrewTo } from './crew.ts';

const AT = 1_795_000_000_000;
const show = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
const say = (messageId: string, to: CrewTo, text = messageId): Command => ({
	type: 'sendCrew',
	messageId,
	text,
	to,
	from: 'Desk',
});
const wide = { page: 'tally', sourceId: 'wide' } as const;
const panel = { page: 'panel', sourceId: null } as const;

describe('a message of the crew', () => {
	it('is for all, for pages of a kind, or for one camera; the newest that was not seen stands', () => {
		const { crew } = reduceAll(
			show,
			[
				say('everybody', { is: 'all' }),
				say('panels', { is: 'pages', page: 'panel' }),
				say('closer', { is: 'camera', sourceId: 'wide' }),
			],
			AT,
		).live;
		expect(unseenFor(crew, wide, 'Wide')?.text).toBe('closer');
		expect(unseenFor(crew, { ...wide, sourceId: 'lectern' }, 'Lectern')?.text).toBe('everybody');
		expect(unseenFor(crew, panel, 'Bram’s phone')?.text).toBe('panels');
		// Nobody is told what they said themselves.
		expect(unseenFor(crew, { page: 'desk', sourceId: null }, 'Desk')).toBeNull();
	});

	it('that was seen is seen by who saw it, once, and the one before stands again', () => {
		const said = reduceAll(show, [say('one', { is: 'all' }), say('two', { is: 'all' })], AT);
		const see: Command = { type: 'seeCrew', messageId: 'two', by: 'Wide' };
		const seen = reduceAll(said, [see, see], AT);
		expect(seen.live.crew.at(-1)?.seenBy).toEqual(['Wide']);
		expect([unseenFor(seen.live.crew, wide, 'Wide')?.id, unseenFor(seen.live.crew, panel, 'Bram')?.id]).toEqual([
			'one',
			'two',
		]);
		expect(tryReduce(said, { ...see, messageId: 'none' }, AT)).toMatchObject({ refused: { code: 'gone' } });
		expect(tryReduce(said, say('two', { is: 'all' }), AT)).toMatchObject({ refused: { code: 'exists' } });
	});

	it('is kept while it is among the newest', () => {
		const many = Array.from({ length: MOST_CREW_MESSAGES + 5 }, (_, i) => say(`m${i}`, { is: 'all' }));
		expect(reduceAll(show, many, AT).live.crew.map(({ id }) => id)).toEqual(
			Array.from({ length: MOST_CREW_MESSAGES }, (_, i) => `m${i + 5}`),
		);
	});

	it('can be prepared, and that can be taken back', () => {
		const { state, inverse } = reduce(show, { type: 'setPrepared', texts: ['Closer', 'Wait'] }, AT);
		expect(state.setup.prepared).toEqual(['Closer', 'Wait']);
		expect(reduceAll(state, [...inverse], AT)).toEqual(show);
	});
});

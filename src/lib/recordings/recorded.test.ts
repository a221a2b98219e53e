import { expect, it } from 'vitest';
import { asOne } from './recorded.ts';

const file = (id: string, broadcastId: string, kind: 'program' | 'excerpt' | 'source' = 'program') => ({
	id,
	broadcastId,
	kind,
});

it('lists files of one broadcast as one, the oldest first, where its newest would stand; all else stands for itself', () => {
	const excerpt = file('excerpt', 'evening', 'excerpt');
	const listed = [
		file('b', 'evening'),
		excerpt,
		file('x', 'morning'),
		file('a', 'evening'),
		file('s', 'evening', 'source'),
	];
	expect(asOne(listed).map((files) => files.map(({ id }) => id))).toEqual([['a', 'b'], ['excerpt'], ['x'], ['s']]);
});

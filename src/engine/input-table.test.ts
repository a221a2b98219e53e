import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plainChannel } from '../core/show/mix/mix.ts';
import { InputTable } from './input-table.ts';

const channels = ['a', 'b', 'c'].map((id) => plainChannel(id, 'console', id, [0]));
const always = () => 'splitter';

describe('the mixer’s inputs', () => {
	it('stay with their channels for as long as the sound comes from the same place', () => {
		const table = new InputTable<string>(8);
		expect(table.follow(channels, always).connect.map(({ channelId, input }) => [channelId, input])).toEqual([
			['a', 0],
			['b', 1],
			['c', 2],
		]);
		expect(table.follow(channels, always)).toEqual({ disconnect: [], connect: [] });
		const [a, , c] = channels;
		expect(table.follow([c!, a!], always).disconnect.map(({ channelId }) => channelId)).toEqual(['b']);
		const changed = table.follow([a!, { ...c!, inputs: [4, 5] }, plainChannel('d', 'console', 'd')], always);
		expect(changed.connect.map(({ channelId, from, input }) => [channelId, from, input])).toEqual([
			['c', [4, 5], 1],
			['d', [0, 1], 2],
		]);
		expect([table.inputOf('a'), table.inputOf('b')]).toEqual([0, null]);
	});

	it('are given up when a source has no sound any more, or another one', () => {
		const table = new InputTable<string>(8);
		table.follow(channels, always);
		expect(table.follow(channels, () => null).disconnect).toHaveLength(3);
		expect(table.inputOf('a')).toBeNull();
		table.follow(channels, always);
		const { disconnect, connect } = table.follow(channels, () => 'another');
		expect([disconnect.length, connect.length]).toEqual([3, 3]);
	});

	it('are never shared, nor more than there are, whatever comes and goes', () => {
		const some = fc.subarray(['a', 'b', 'c', 'd', 'e', 'f']);
		fc.assert(
			fc.property(fc.array(fc.tuple(some, some), { maxLength: 12 }), (steps) => {
				const table = new InputTable<string>(4);
				for (const [ids, sounding] of steps) {
					const list = ids.map((id) => plainChannel(id, id, id, [0]));
					table.follow(list, (sourceId) => (sounding.includes(sourceId) ? sourceId : null));
					const inputs = ids.map((id) => table.inputOf(id)).filter((input) => input !== null);
					expect(new Set(inputs).size).toBe(inputs.length);
					expect(inputs).toHaveLength(Math.min(4, ids.filter((id) => sounding.includes(id)).length));
					expect(inputs.every((input) => input < 4)).toBe(true);
				}
			}),
		);
	});
});

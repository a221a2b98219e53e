import fc from 'fast-check';
import { expect, it } from 'vitest';
import { FreshReads } from './fresh-reads.ts';

it('memory ends as what is stored, whatever is written and read at the same time, and never goes back', async () => {
	const step = fc.record({
		does: fc.constantFrom('write', 'first in memory', 'read', 'fails'),
		asks: fc.nat(4),
		answers: fc.nat(20),
	});
	await fc.assert(
		fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 12 }), async (steps) => {
			const reads = new FreshReads();
			let [stored, known, changes] = [0, 0, 0];
			const turns = async (count: number) => {
				for (let turn = 0; turn < count; turn++) await Promise.resolve();
			};
			const read = () =>
				reads.read(
					async () => {
						const row = stored;
						await turns(8);
						return row;
					},
					(row) => {
						expect(row).toBeGreaterThanOrEqual(known);
						known = row;
					},
				);
			const write = (isFirst: boolean, asks: number, answers: number) => {
				const value = ++changes;
				if (isFirst) known = value;
				return reads.write('row', async () => {
					await turns(asks);
					stored = value;
					await turns(answers);
					known = Math.max(known, value);
				});
			};
			await Promise.allSettled(
				steps.map(async ({ does, asks, answers }, index) => {
					await turns(index * asks);
					if (does === 'read') await read();
					else if (does !== 'fails') await write(does !== 'write', asks, answers);
					else await reads.write('row', () => Promise.reject(new Error('away')));
				}),
			).then((all) => {
				const failed = all.filter(({ status }, index) => status === 'rejected' && steps[index]!.does !== 'fails');
				expect(failed).toEqual([]);
			});
			expect(known).toBe(stored);
		}),
	);
});

it('a write that hangs holds up none of another row', async () => {
	const reads = new FreshReads();
	void reads.write('lectern', () => new Promise<never>(() => {}));
	expect(await reads.write('choir', () => Promise.resolve('written'))).toBe('written');
});

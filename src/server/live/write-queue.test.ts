import { describe, expect, it } from 'vitest';
import { FencedOff } from '../nodes/fence.ts';
import { WriteQueue } from './write-queue.ts';

/** A queue whose database takes rows only when it is told to. */
function heldUp() {
	const stored: string[] = [];
	let goOn = () => {};
	const until = new Promise<void>((resolve) => (goOn = resolve));
	const queue = new WriteQueue<string>({
		name: 'a test',
		async write(rows) {
			await until;
			stored.push(...rows);
		},
	});
	return { queue, stored, goOn };
}

describe('a queue of rows that is closed before the database has taken them', () => {
	it('refuses whoever waits until theirs is written, and takes no more', async () => {
		const { queue } = heldUp();
		const reason = new FencedOff('lantern-night');
		const waiting = ['first', 'second'].map((row) => queue.addSurely(row, () => false));
		const told = Promise.allSettled(waiting);
		// By then it is known that the database takes its time, and closing does not wait for it.
		await queue.add('third');
		await queue.close(reason);
		expect(await told).toEqual(waiting.map(() => ({ status: 'rejected', reason })));
		await expect(queue.addSurely('fourth', () => false)).rejects.toBe(reason);
	});

	it('has told those whose rows were written', async () => {
		const { queue, stored, goOn } = heldUp();
		const written = queue.addSurely('first', () => false);
		goOn();
		await queue.close(new FencedOff('lantern-night'));
		await written;
		expect(stored).toEqual(['first']);
	});

	it('keeps nobody who does not wait for that', async () => {
		const { queue, stored, goOn } = heldUp();
		const added = await queue.add('first');
		expect([queue.healthy, added.isWritten]).toEqual([false, false]);
		goOn();
		await queue.close();
		await added.written;
		expect([stored, added.isWritten]).toEqual([['first'], true]);
	});
});

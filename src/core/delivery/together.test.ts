import { describe, expect, it } from 'vitest';
import { Together } from './together.ts';

function line() {
	const sent: string[] = [];
	return { sent, together: new Together<string>((packet) => sent.push(packet)) };
}

describe('sound and pictures together', () => {
	it('sound waits for the next picture, and goes before it', () => {
		const { sent, together } = line();
		for (const packet of ['s1', 's2']) together.sound(packet);
		expect(sent).toEqual([]);
		together.picture('p1');
		expect(sent).toEqual(['s1', 's2', 'p1']);
		together.picture('p2');
		expect(sent).toEqual(['s1', 's2', 'p1', 'p2']);
	});

	it('sound goes on where no picture comes, in order and without a loss', () => {
		const { sent, together } = line();
		const all = Array.from({ length: 50 }, (_, i) => `s${i}`);
		for (const [i, packet] of all.entries()) {
			together.sound(packet);
			expect(i + 1 - sent.length).toBeLessThanOrEqual(3);
		}
		together.flush();
		together.flush();
		expect(sent).toEqual(all);
	});

	it('what waited for a line that is gone is not sent on the next one', () => {
		const { sent, together } = line();
		together.sound('s1');
		together.clear();
		together.picture('p1');
		expect(sent).toEqual(['p1']);
	});
});

import { expect, it } from 'vitest';
import { Backlog } from './backlog.ts';

/** A table that can be gone. */
class Table {
	rows: number[] = [];
	gone = false;
	asked = 0;
	write = async (rows: number[]) => {
		this.asked++;
		await Promise.resolve();
		if (this.gone) throw new Error('gone');
		this.rows.push(...rows);
	};
}
const settled = () => new Promise((resolve) => setTimeout(resolve, 20));

it('rows are written in order, many at a time', async () => {
	const table = new Table();
	const backlog = new Backlog(table.write);
	for (let i = 0; i < 250; i++) backlog.add(i);
	await settled();
	expect(table.rows).toEqual(Array.from({ length: 250 }, (_, i) => i));
	expect(table.asked).toBeLessThan(10);
});

it('what a database that is gone does not take is written when it is back, but for the oldest beyond all bounds', async () => {
	const table = new Table();
	table.gone = true;
	const backlog = new Backlog(table.write, 5);
	for (let i = 0; i < 8; i++) backlog.add(i);
	await settled();
	expect(table.rows).toEqual([]);
	table.gone = false;
	await new Promise((resolve) => setTimeout(resolve, 1200));
	expect(table.rows).toEqual([3, 4, 5, 6, 7]);
});

it('closing waits for what is being written, and not for a database that is gone', async () => {
	const table = new Table();
	const backlog = new Backlog(table.write);
	backlog.add(1);
	await backlog.close();
	expect(table.rows).toEqual([1]);
	const lost = new Table();
	lost.gone = true;
	const other = new Backlog(lost.write);
	other.add(1);
	await other.close();
	const { asked } = lost;
	await new Promise((resolve) => setTimeout(resolve, 1500));
	expect(lost.asked).toBeLessThanOrEqual(asked + 1);
});

import { describe, expect, it } from 'vitest';
import { follower, lately, LOOKS_BACK, readLoad, roomiest, roomOf, type KnownNode, type NodeLoad } from './load.ts';

const IDLE: NodeLoad = {
	cores: 4,
	usedCores: 0,
	sendsKbps: 0,
	lineKbps: 1_000_000,
	diskBytes: 1e12,
	events: 0,
	onAir: 0,
	keeps: 0,
};
const node = (id: string, load: Partial<NodeLoad> = {}, emptying: KnownNode['emptying'] = null): KnownNode => ({
	id,
	load: { ...IDLE, ...load },
	emptying,
});

describe('the room of a node', () => {
	it('is that of what it has least of', () => {
		expect(roomOf(IDLE)).toBe(1);
		expect(roomOf({ ...IDLE, usedCores: 3 })).toBe(0.25);
		expect(roomOf({ ...IDLE, usedCores: 1, sendsKbps: 900_000 })).toBeCloseTo(0.1);
		expect(roomOf({ ...IDLE, diskBytes: 10e9 })).toBeCloseTo(0.05);
		expect(roomOf({ ...IDLE, usedCores: 9 })).toBe(0);
		expect(roomOf({ ...IDLE, lineKbps: null, diskBytes: null, usedCores: 2 })).toBe(0.5);
	});
	it('is measured over a while: what is counted is compared with the oldest of the last counts', () => {
		const then = lately<number>();
		const seen = Array.from({ length: LOOKS_BACK + 3 }, (_, second) => then(second));
		expect(seen.slice(0, 3)).toEqual([null, 0, 0]);
		expect(seen.slice(-2)).toEqual([1, 2]);
		expect(LOOKS_BACK + 2 - seen.at(-1)!).toBe(LOOKS_BACK);
	});
	it('is read of any version, and is nothing where it makes no sense', () => {
		expect(readLoad({ ...IDLE, gpus: 2 })).toEqual(IDLE);
		for (const stored of [null, {}, { ...IDLE, usedCores: -1 }, { ...IDLE, cores: 'many' }])
			expect(readLoad(stored)).toBeNull();
	});
});

describe('a new event', () => {
	it('goes to the node with the most room, of equals to that with the fewest events, never to one that is emptied', () => {
		expect(roomiest([node('a', { usedCores: 2 }), node('b', { usedCores: 1 }), node('c', {}, 'now')])).toBe('b');
		expect(roomiest([node('a', { events: 3 }), node('b', { events: 1, usedCores: 0.001 })])).toBe('b');
		expect(roomiest([node('a', {}, 'now')])).toBeNull();
	});
});

describe('events whose owner is gone', () => {
	const events = Array.from({ length: 3000 }, (_, i) => `event-${i}`);
	const shareOf = (id: string, nodes: KnownNode[]) =>
		events.filter((event) => follower(event, nodes) === id).length / events.length;

	it('spread over the others by their room, the same way for whoever asks', () => {
		const nodes = [node('a'), node('b'), node('c', { usedCores: 2 })];
		expect(shareOf('a', nodes)).toBeCloseTo(0.4, 1);
		expect(shareOf('c', nodes)).toBeCloseTo(0.2, 1);
		expect(events.map((event) => follower(event, nodes))).toEqual(
			events.map((event) => follower(event, nodes.toReversed())),
		);
	});
	it('go to the next one when their turn was not taken, and stay where they were to go when another node is gone', () => {
		const nodes = [node('a'), node('b'), node('c')];
		for (const event of events.slice(0, 100)) {
			const first = follower(event, nodes)!;
			const second = follower(event, nodes, new Set([first]))!;
			expect(second).not.toBe(first);
			const third = nodes.find(({ id }) => id !== first && id !== second)!;
			expect(
				follower(
					event,
					nodes.filter(({ id }) => id !== third.id),
				),
			).toBe(first);
			expect(follower(event, nodes, new Set(['a', 'b', 'c']))).toBeNull();
		}
	});
	it('go to full and to emptied nodes rather than to none', () => {
		expect(follower('event', [node('a', { usedCores: 4 })])).toBe('a');
		expect(follower('event', [node('a', {}, 'now')])).toBe('a');
		expect(shareOf('a', [node('a', {}, 'now'), node('b', { usedCores: 4 })])).toBe(0);
	});
});

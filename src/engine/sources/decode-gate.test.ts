import { beforeEach, expect, it, vi } from 'vitest';
import { gated, moveGate, useGate } from './decode-gate.ts';

/** What has reached the decoder behind the gate, by time stamp in milliseconds. */
let decoded: number[];
let inside: number;
/** The browser's, as far as the gate needs it: it decodes when it is told to. */
class Native extends EventTarget {
	decode({ timestamp }: EncodedVideoChunk): void {
		decoded.push(timestamp / 1000);
		inside++;
	}
	get decodeQueueSize(): number {
		return inside;
	}
	async flush(): Promise<void> {
		decoded.push(-1);
	}
	close(): void {}
	/** All that is inside comes out. */
	finish(): void {
		inside = 0;
		this.dispatchEvent(new Event('dequeue'));
	}
}
const Decoder = gated(Native as unknown as typeof VideoDecoder);
const chunk = (ms: number) => ({ timestamp: ms * 1000 }) as EncodedVideoChunk;
let upToMs: number;
let paced: boolean;
let over: boolean;

beforeEach(() => {
	vi.useFakeTimers();
	[decoded, inside, upToMs, paced, over] = [[], 0, Infinity, false, false];
	useGate({ admits: (ms) => ms <= upToMs, isPaced: () => paced, isOver: () => over });
	return () => {
		// All gates see this: none of a test's packets waits on in the next one.
		over = true;
		moveGate();
		vi.useRealTimers();
	};
});
const make = () => new Decoder({ output: () => {}, error: () => {} }) as VideoDecoder & Native;

it('packets are let in a few at a time, in order, and only as far as they are needed', () => {
	upToMs = 100;
	const decoder = make();
	for (let ms = 0; ms < 400; ms += 20) decoder.decode(chunk(ms));
	expect(decoded).toEqual([0, 20, 40]);
	expect(decoder.decodeQueueSize).toBe(20);
	decoder.finish();
	decoder.finish();
	expect(decoded).toEqual([0, 20, 40, 60, 80, 100]);
	decoder.finish();
	upToMs = 130;
	moveGate();
	expect(decoded.at(-1)).toBe(120);
});

it('without hurry one is let in every few milliseconds', () => {
	paced = true;
	const decoder = make();
	for (let ms = 0; ms < 100; ms += 20) decoder.decode(chunk(ms));
	const counts = [decoded.length];
	for (let i = 0; i < 3; i++) {
		inside = 0;
		vi.advanceTimersByTime(21);
		counts.push(decoded.length);
	}
	expect(counts).toEqual([1, 2, 3, 4]);
});

it('where hurry begins, what waited for its turn is let in at once', () => {
	paced = true;
	const decoder = make();
	for (let ms = 0; ms < 100; ms += 20) decoder.decode(chunk(ms));
	expect(decoded).toEqual([0]);
	paced = false;
	moveGate();
	expect(decoded).toEqual([0, 20, 40]);
});

it('a flush waits for all that is held, and for nothing when it is over', async () => {
	upToMs = 10;
	const decoder = make();
	decoder.decode(chunk(0));
	decoder.decode(chunk(20));
	const flushed = decoder.flush();
	await Promise.resolve();
	expect(decoded).toEqual([0]);
	decoder.finish();
	upToMs = 20;
	moveGate();
	await flushed;
	expect(decoded).toEqual([0, 20, -1]);

	decoder.decode(chunk(40));
	const dropped = decoder.flush();
	over = true;
	moveGate();
	await dropped;
	expect(decoded).toEqual([0, 20, -1, -1]);
});

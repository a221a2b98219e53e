import { describe, expect, it } from 'vitest';
import { estimateClap, type Motion } from './clap.ts';

const RATE = 48_000;
let state = 1;
const noise = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 31 - 1;

/** Claps at these milliseconds, each with a room's echo, over soft noise. */
function claps(atMs: number[], seconds = 6): Float32Array {
	const sound = Float32Array.from({ length: seconds * RATE }, () => 0.001 * noise());
	for (const at of atMs)
		for (let i = 0; i < RATE / 4; i++) {
			const place = Math.round((at * RATE) / 1000) + i;
			if (place < sound.length) sound[place]! += 0.6 * noise() * Math.exp(-i / 1500);
		}
	return sound;
}

/** Pictures at a rate, in which somebody moves a little all the time, and much at these milliseconds. */
function pictures(atMs: number[], fps = 30, seconds = 6): Motion[] {
	return Array.from({ length: seconds * fps }, (_, i) => {
		const shown = (i * 1000) / fps;
		const clap = atMs.some((at) => at <= shown && shown < at + 1000 / fps);
		return { atMs: shown, energy: 1 + 0.3 * noise() + (clap ? 12 : 0) };
	});
}

describe('the delay between picture and sound, by a clap', () => {
	it.each([-200, -40, 0, 85, 160, 480])('of %d ms is found within a picture', (delayMs) => {
		const at = [1200, 2300, 3450];
		const found = estimateClap(pictures(at.map((ms) => ms + delayMs)), claps(at), 0);
		if ('refused' in found) throw new Error(found.refused);
		expect(found.claps).toBe(3);
		expect(found.delayMs).toBeGreaterThan(delayMs - 3);
		expect(found.delayMs).toBeLessThan(delayMs + 1000 / 30 + 3);
	});

	it('counts from where the sound began', () => {
		const found = estimateClap(pictures([1200, 2300]), claps([200, 1300]), 1000);
		expect(found).toMatchObject({ claps: 2 });
		expect('delayMs' in found && Math.abs(found.delayMs)).toBeLessThan(40);
	});

	it('is not led astray by a cough that nobody saw, nor by a wave that nobody heard', () => {
		const found = estimateClap(pictures([1300, 2400, 3550, 5000]), claps([400, 1200, 2300, 3450]), 0);
		expect(found).toMatchObject({ claps: 3 });
		expect('delayMs' in found && found.delayMs).toBeCloseTo(115, -2);
	});

	it('is refused, with what to do, when there is no clap, only one, or nothing that fits', () => {
		expect(estimateClap(pictures([1200]), claps([]), 0)).toEqual({ refused: 'noClapHeard' });
		expect(estimateClap(pictures([]), claps([1200, 2200]), 0)).toEqual({ refused: 'noClapSeen' });
		expect(estimateClap(pictures([1200]), claps([1200]), 0)).toEqual({
			refused: 'clapsDiffer',
		});
		expect(estimateClap(pictures([1000, 2000]), claps([1300, 2900]), 0)).toHaveProperty('refused');
		expect(estimateClap([], new Float32Array(0), 0)).toHaveProperty('refused');
	});
});

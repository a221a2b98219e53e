import { expect, it } from 'vitest';
import { LOOP, RATE, Room } from './room.ts';

const INPUTS = [{ sound: 0 }, { sound: 1 }, { air: 'left' }, { air: 'right' }, null] as const;
/** A click at the beginning of the first sound; the second is a tone. */
function room(): Room {
	const made = new Room(INPUTS);
	made.put(0, Float32Array.of(1));
	made.put(
		1,
		Float32Array.from({ length: LOOP }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 1000 * i) / RATE)),
	);
	return made;
}
/** What all inputs give from a sample on. @param desk what the desk plays, by sample */
function heard(of: Room, from: number, blocks: number, desk?: (at: number) => number): Float32Array[] {
	const all = INPUTS.map(() => new Float32Array(128 * blocks));
	for (let block = 0; block < blocks; block++) {
		const at = from + 128 * block;
		const outputs = all.map((sound) => sound.subarray(128 * block, 128 * (block + 1)));
		of.run(at, desk && Float32Array.from({ length: 128 }, (_, i) => desk(at + i)), outputs);
	}
	return all;
}
const peak = (sound: Float32Array) => Math.max(...sound.map(Math.abs));

it('the console’s sounds go round by the clock, and its air microphones hear them a little later', () => {
	const [click, tone, left, right, nothing] = heard(room(), LOOP, 12) as [Float32Array, ...Float32Array[]];
	expect(click.findIndex((sample) => sample === 1)).toBe(0);
	expect(peak(tone!)).toBeCloseTo(0.5);
	expect(peak(nothing!)).toBe(0);
	// 21 ms and 24 ms, where the tone of the other alone would be smooth.
	const alone = new Room(INPUTS);
	alone.put(0, Float32Array.of(1));
	const [, , ownLeft, ownRight] = heard(alone, 0, 12) as [Float32Array, ...Float32Array[]];
	expect([ownLeft, ownRight].map((side) => side!.findIndex((sample) => sample > 0.2))).toEqual([1008, 1152]);
	expect(peak(left!)).toBeGreaterThan(0.1);
	expect(peak(right!)).toBeGreaterThan(0.1);
});

it('the console’s faults are heard, each of them, and are gone when it is mended', () => {
	const broken = room();
	const tone = (fault: Parameters<Room['break']>[0]['fault'], blocks = 400) => {
		broken.break({ input: 1, fault });
		return heard(broken, 0, blocks, (at) => (at === 1000 ? 1 : 0))[1]!;
	};
	const whole = tone('none');
	expect(peak(tone('dead'))).toBe(0);
	expect(tone('clipping').filter((sample) => Math.abs(sample) === 1).length).toBeGreaterThan(10_000);
	const hum = tone('hum').map((sample, i) => sample - whole[i]!);
	expect(peak(hum)).toBeCloseTo(0.05, 3);
	expect(tone('late').subarray(8640 + 100, 8640 + 200)).toEqual(whole.subarray(100, 200));
	const dropouts = tone('dropouts');
	expect(peak(dropouts.subarray(0, 16_000))).toBeCloseTo(0.5);
	expect(peak(dropouts.subarray(17_000, 33_000))).toBe(0);
	const desk = tone('hearsDesk').map((sample, i) => sample - whole[i]!);
	expect(desk.findIndex((sample) => Math.abs(sample - 0.1) < 1e-6)).toBe(1000 + 3360);
	expect(tone('none')).toEqual(whole);
	broken.break({ input: 99, fault: 'dead' });
});

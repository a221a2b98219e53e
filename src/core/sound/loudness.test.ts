import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { LOUDNESS_HISTORY, LoudnessMeter, MAX_PACKED_HISTORY, packHistory, unpackHistory } from './loudness.ts';
import { TruePeak } from './true-peak.ts';

const RATE = 48_000;
/** Stereo tones at 1 kHz, one after the other: seconds and dBFS of each. */
type Parts = [seconds: number, dbfs: number][];

function measured(
	parts: Parts,
	history = new Float64Array(LOUDNESS_HISTORY),
): LoudnessMeter & { shorts: number[]; momentaries: number[] } {
	const meter = Object.assign(new LoudnessMeter(history), { shorts: [] as number[], momentaries: [] as number[] });
	for (const [seconds, dbfs] of parts) {
		// Ten whole periods, so that one block follows the other.
		const tone = (_: unknown, i: number) => 10 ** (dbfs / 20) * Math.sin((2 * Math.PI * 1000 * i) / RATE);
		const block = Float32Array.from({ length: 480 }, tone);
		for (let done = 0; done < Math.round(seconds * 100); done++) {
			meter.run(block, block);
			meter.shorts.push(meter.shortTerm);
			meter.momentaries.push(meter.momentary);
		}
	}
	return meter;
}

// EBU Tech 3341 (2016), table 1; the signals are stereo.
describe('loudness by EBU Tech 3341', () => {
	it.each<[string, Parts, number]>([
		['1', [[20, -23]], -23],
		['2', [[20, -33]], -33],
		[
			'3',
			[
				[10, -36],
				[60, -23],
				[10, -36],
			],
			-23,
		],
		[
			'4',
			[
				[10, -72],
				[10, -36],
				[60, -23],
				[10, -36],
				[10, -72],
			],
			-23,
		],
		[
			'5',
			[
				[20, -26],
				[20.1, -20],
				[20, -26],
			],
			-23,
		],
	])('case %s: integrated', (_, parts, lufs) => {
		expect(Math.abs(measured(parts).integrated - lufs)).toBeLessThanOrEqual(0.1);
	});

	it('cases 1 and 2: momentary and short-term too', () => {
		for (const lufs of [-23, -33]) {
			const { momentary, shortTerm } = measured([[20, lufs]]);
			expect(Math.abs(momentary - lufs)).toBeLessThanOrEqual(0.1);
			expect(Math.abs(shortTerm - lufs)).toBeLessThanOrEqual(0.1);
		}
	});

	it('case 9: short-term is −23 LUFS without a break after three seconds', () => {
		const parts = Array.from({ length: 5 }, (): Parts => [
			[1.34, -20],
			[1.66, -30],
		]).flat();
		for (const lufs of measured(parts).shorts.slice(301)) expect(Math.abs(lufs + 23)).toBeLessThanOrEqual(0.1);
	});

	it('case 12: momentary is −23 LUFS without a break after one second', () => {
		const parts = Array.from({ length: 25 }, (): Parts => [
			[0.18, -20],
			[0.22, -30],
		]).flat();
		for (const lufs of measured(parts).momentaries.slice(101)) expect(Math.abs(lufs + 23)).toBeLessThanOrEqual(0.1);
	});

	// Cases 15 to 19: tones at a quarter of the rate and others, whose tops lie between samples.
	it.each([
		['15', 0.5, 12_000, 0, -6],
		['16', 0.5, 12_000, 45, -6],
		['17', 0.5, 8000, 60, -6],
		['18', 0.5, 6000, 67.5, -6],
		['19', 1.41, 12_000, 45, 3],
	])('case %s: true peak', (_, amplitude, hz, degrees, dbtp) => {
		const tone = Float32Array.from({ length: RATE }, (_, i) => {
			// Faded in and out, as a tone that begins at full height has tops of its own.
			const fade = Math.min(1, i / 4800, (RATE - i) / 4800);
			const phase = (2 * Math.PI * hz * i) / RATE + (degrees * Math.PI) / 180;
			return amplitude * fade * Math.sin(phase);
		});
		const heights = new Float64Array(RATE);
		new TruePeak().run(tone, 0, heights);
		const found = 20 * Math.log10(heights.reduce((highest, height) => Math.max(highest, height), 0)) - dbtp;
		expect(found).toBeLessThanOrEqual(0.2);
		expect(found).toBeGreaterThanOrEqual(-0.4);
	});
});

// EBU Tech 3342 (2016), table 1.
describe('loudness range by EBU Tech 3342', () => {
	it.each<[string, Parts, number]>([
		[
			'1',
			[
				[20, -20],
				[20, -30],
			],
			10,
		],
		[
			'2',
			[
				[20, -20],
				[20, -15],
			],
			5,
		],
		[
			'3',
			[
				[20, -40],
				[20, -20],
			],
			20,
		],
		[
			'4',
			[
				[20, -50],
				[20, -35],
				[20, -20],
				[20, -35],
				[20, -50],
			],
			15,
		],
	])('case %s', (_, parts, lu) => {
		expect(Math.abs(measured(parts).range - lu)).toBeLessThanOrEqual(1);
	});
});

it('begins anew when told to, and silence is no number', () => {
	const meter = measured([[5, -10]]);
	meter.restart();
	expect([meter.integrated, meter.truePeakDb]).toEqual([-Infinity, -Infinity]);
	const silent = measured([[5, -200]]);
	expect(silent.integrated).toBe(-Infinity);
	expect(silent.range).toBe(0);
});

describe('a meter that takes over what another remembers', () => {
	const parts: Parts = [
		[20, -30],
		[20, -20],
		[20, -26],
	];

	it('says of the whole what one alone would have said', () => {
		const first = new Float64Array(LOUDNESS_HISTORY);
		measured(parts.slice(0, 2), first);
		const packed = packHistory(first);
		expect(packed.length).toBeLessThan(100);
		const history = new Float64Array(LOUDNESS_HISTORY);
		unpackHistory(packed, history);
		const [second, whole] = [measured(parts.slice(2), history), measured(parts)];
		expect(Math.abs(second.integrated - whole.integrated)).toBeLessThan(0.05);
		expect(Math.abs(second.range - whole.range)).toBeLessThan(0.2);
		expect(second.truePeakDb).toBeCloseTo(whole.truePeakDb, 6);
		// Packed again it is what it was.
		unpackHistory(packed, history);
		expect(packHistory(history)).toEqual(packed);
	});

	it('takes whatever comes from outside', () => {
		const history = new Float64Array(LOUDNESS_HISTORY);
		fc.assert(
			fc.property(fc.array(fc.oneof(fc.double(), fc.integer({ min: -9, max: 20_000 }))), (packed) => {
				unpackHistory(packed, history);
				expect(history.every((value) => value >= 0)).toBe(true);
				expect(packHistory(history).length).toBeLessThanOrEqual(MAX_PACKED_HISTORY);
			}),
		);
	});
});

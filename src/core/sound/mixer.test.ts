import { execFileSync } from 'node:child_process';
import process from 'node:process';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { soundMemory } from '../../../tests/support/sound.ts';
import { plainClip, wholeItem } from '../show/clips/clip.ts';
import { plainChannel, plainMix, plainStrip, withPreset, type Channel, type Strip } from '../show/mix/mix.ts';
import { plainSource } from '../show/sources/source.ts';
import { withLive, withSetup } from '../show/slice.ts';
import { emptyShow, type Live, type Setup, type ShowState } from '../show/state.ts';
import { plainScene, wholeLayer } from '../show/scenes/scene.ts';
import { compressedBy, Compressor, Gate } from './dynamics.ts';
import { LIMITER_DELAY } from './limiter.ts';
import { mixPlan } from './mix-plan.ts';
import { BLOCK, Mixer } from './mixer.ts';
import { levelsAt, READINGS, drainReadings } from './readings.ts';

const RATE = 48_000;
type Sound = (i: number) => number;
const tone =
	(hz: number, amplitude: number): Sound =>
	(i) =>
		amplitude * Math.sin((2 * Math.PI * hz * i) / RATE);
const silence: Sound = () => 0;

const empty = emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 });
function show(channels: Channel[], setup: Partial<Setup> = {}, live: Partial<Live> = {}): ShowState {
	return withLive(withSetup(empty, { channels, ...setup }), live);
}
const channel = (id: string, part: Partial<Channel> = {}): Channel => ({ ...plainChannel(id, 'console', id), ...part });
const withStrip = (id: string, strip: Partial<Strip>, part: Partial<Channel> = {}) =>
	channel(id, { ...part, strip: { ...plainStrip(), ...strip } });

/** A mixer that plays sounds on its channels and keeps what came out. */
class Desk {
	readonly mixer = new Mixer(soundMemory(), 8);
	#at = 0;

	set(state: ShowState, fading = false): void {
		const input = (id: string) => state.setup.channels.findIndex((each) => each.id === id);
		this.mixer.set(mixPlan(state, input, 8, fading));
	}

	/** @param sounds by channel, one or two sides */
	play(seconds: number, ...sounds: (Sound | [Sound, Sound])[]): { left: Float32Array; right: Float32Array } {
		const blocks = Math.round((seconds * RATE) / BLOCK);
		const [left, right] = [new Float32Array(blocks * BLOCK), new Float32Array(blocks * BLOCK)];
		for (let block = 0; block < blocks; block++) {
			const inputs = sounds.map((sound) =>
				(Array.isArray(sound) ? sound : [sound]).map((side) =>
					Float32Array.from({ length: BLOCK }, (_, i) => side(this.#at + i)),
				),
			);
			this.mixer.run(inputs);
			left.set(this.mixer.left, block * BLOCK);
			right.set(this.mixer.right, block * BLOCK);
			this.#at += BLOCK;
		}
		return { left, right };
	}
}
function desk(channels: Channel[], part: Partial<Setup> = {}): Desk {
	const made = new Desk();
	made.set(show(channels, part));
	return made;
}
const rms = (samples: Float32Array) => Math.sqrt(samples.reduce((sum, s) => sum + s * s, 0) / samples.length);
const db = (linear: number) => 20 * Math.log10(linear);
const tail = (samples: Float32Array, part = 0.5) => samples.subarray(Math.floor(samples.length * (1 - part)));
const highest = (samples: Float32Array) => samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
const steepest = (samples: Float32Array) =>
	samples.reduce((most, sample, i) => (i === 0 ? 0 : Math.max(most, Math.abs(sample - samples[i - 1]!))), 0);

describe('the mix', () => {
	it('sums channels with their gains, one alone on both sides, and nothing of a muted one', () => {
		const state = desk([channel('a'), channel('b', { gainDb: -6.0206 }), channel('c', { muted: true })]);
		const { left, right } = state.play(0.5, tone(440, 0.2), [tone(440, 0.2), silence], tone(880, 0.5));
		expect(db(rms(tail(left)) * Math.SQRT2)).toBeCloseTo(db(0.3), 2);
		expect(db(rms(tail(right)) * Math.SQRT2)).toBeCloseTo(db(0.2), 2);
	});

	it('makes the same of one sound alone as of a pair of the same, also while faders and sides move', () => {
		const [eq, sung] = [plainStrip().eq.map((band) => ({ ...band, gainDb: 4 })) as Strip['eq'], tone(330, 0.3)];
		const state = (pan: number, gainDb: number) =>
			show([{ ...withPreset(withStrip('a', { eq, pan, delayMs: 7 }), 'speaking voice'), gainDb }]);
		const [alone, pair] = [new Desk(), new Desk()];
		for (const [pan, gainDb] of [
			[0, 0],
			[0, -9],
			[0.4, -9],
			[0, 3],
		] as const) {
			for (const each of [alone, pair]) each.set(state(pan, gainDb));
			const [one, two] = [alone.play(0.1, sung), pair.play(0.1, [sung, sung])];
			for (const side of ['left', 'right'] as const) expect(one[side]).toEqual(two[side]);
		}
	});

	it('is not silenced by samples that are no numbers', () => {
		const state = desk([channel('a'), channel('b')]);
		const { left } = state.play(0.5, tone(440, 0.3), (i) => [NaN, Infinity, -Infinity, 0][i % 4]!);
		expect(left.every(Number.isFinite)).toBe(true);
		expect(rms(tail(left)) * Math.SQRT2).toBeCloseTo(0.3, 3);
	});

	it.each<[Strip['width'], number, number, number]>([
		['stereo', 0, 0.4, 0.1],
		['mono', 0, 0.25, 0.25],
		['left', 0, 0.4, 0.4],
		['right', 0, 0.1, 0.1],
		['swap', 0, 0.1, 0.4],
		['stereo', 1, 0, 0.1],
		['mono', -0.5, 0.25, 0.125],
	])('puts the sides where they belong: %s, pan %d', (width, pan, l, r) => {
		const state = desk([withStrip('a', { width, pan })]);
		const { left, right } = state.play(0.3, [tone(500, 0.4), tone(500, 0.1)]);
		expect(rms(tail(left)) * Math.SQRT2).toBeCloseTo(l, 3);
		expect(rms(tail(right)) * Math.SQRT2).toBeCloseTo(r, 3);
	});

	it('delays by just what is said, and turns polarity', () => {
		const state = desk([withStrip('a', { delayMs: 250, inverted: true })]);
		state.play(0.1, silence);
		const from = 4800 + 128;
		const { left } = state.play(0.4, (i) => (i === from ? 0.5 : 0));
		const arrives = from - 4736 + 0.25 * RATE + LIMITER_DELAY;
		const heard = left.findIndex((sample) => Math.abs(sample) > 0.4);
		expect(Math.abs(heard - arrives)).toBeLessThanOrEqual(128);
		expect(left[heard]).toBeCloseTo(-0.5, 3);
		expect(left.filter((sample) => Math.abs(sample) > 1e-6).length).toBe(1);
	});

	it('is hushed within 20 ms without a click, and comes back as it was', () => {
		const channels = [channel('a')];
		const state = desk(channels);
		state.play(0.5, tone(1000, 0.5));
		state.set(show(channels, {}, { hushed: true }));
		const { left } = state.play(0.1, tone(1000, 0.5));
		expect(steepest(left)).toBeLessThan(0.5 * ((2 * Math.PI * 1000) / RATE) * 1.05);
		expect(Math.max(...left.subarray(960).map(Math.abs))).toBe(0);
		state.set(show(channels));
		const { left: back } = state.play(0.2, tone(1000, 0.5));
		expect(rms(tail(back)) * Math.SQRT2).toBeCloseTo(0.5, 4);
	});

	it('lets headphones hear a channel before its fader, a group behind it, or all, and viewers nothing of that', () => {
		const channels = [channel('a', { muted: true }), channel('b', { gainDb: -6.0206, group: 'music' }), channel('c')];
		const state = desk(channels);
		const heard = (listened: Parameters<Mixer['listen']>[0]) => {
			state.mixer.listen(listened);
			const before = state.play(0.2, tone(440, 0.2), tone(440, 0.4), silence).left;
			return { stream: rms(tail(before)) * Math.SQRT2, ears: highest(state.mixer.heardLeft) };
		};
		expect(heard({ to: 'nothing' })).toEqual({ stream: expect.closeTo(0.2, 3), ears: 0 });
		expect(heard({ to: 'channel', input: 0 })).toEqual({
			stream: expect.closeTo(0.2, 3),
			ears: expect.closeTo(0.2, 2),
		});
		expect(heard({ to: 'group', inputs: [1, 2] })).toEqual({
			stream: expect.closeTo(0.2, 3),
			ears: expect.closeTo(0.2, 2),
		});
		expect(heard({ to: 'mix' }).ears).toBeCloseTo(0.2, 2);
		state.set(show(channels, {}, { hushed: true }));
		expect(heard({ to: 'mix' }).ears).toBeLessThan(1e-6);
		expect(heard({ to: 'channel', input: 1 }).ears).toBeCloseTo(0.4, 2);
	});

	it('leaves channels out for whoever is heard in them, whatever is done to them meanwhile', () => {
		const both = show([channel('guest'), withStrip('hall', { pan: 0.5 }), channel('screen')]);
		const softer = show(both.setup.channels.map((each) => ({ ...each, gainDb: -6 })));
		const fromAll: number[] = [];
		const heardBy = (guest: Sound) => {
			const state = new Desk();
			state.set(both);
			const [minus, other] = state.mixer.leaveOut([[0, 2], [1]]);
			fromAll.length = 0;
			return Array.from({ length: 200 }, (_, block) => {
				if (block === 80) state.set(softer);
				state.play(BLOCK / RATE, guest, tone(700, 0.2), guest);
				fromAll.push(...other!.left);
				return [...minus!.left, ...minus!.right];
			}).flat();
		};
		const [spoken, kept] = [heardBy(tone(440, 0.5)), heardBy(silence)];
		expect(Math.max(...spoken.map((value, i) => Math.abs(value - kept[i]!)))).toBeLessThan(1e-6);
		expect(highest(Float32Array.from(spoken))).toBeCloseTo(0.2, 2);
		// Somebody else's mix has both of them, and not what that one says.
		heardBy(tone(440, 0.1));
		expect(highest(Float32Array.from(fromAll))).toBeCloseTo(0.2, 2);
	});

	it('opens a channel that waits for a press while it is pressed', () => {
		const talk = channel('talk', { follow: 'press' });
		const state = desk([talk]);
		expect(rms(state.play(0.2, tone(440, 0.2)).left)).toBe(0);
		state.set(show([talk], {}, { pressed: ['talk'] }));
		expect(rms(tail(state.play(0.4, tone(440, 0.2)).left)) * Math.SQRT2).toBeCloseTo(0.2, 3);
		state.set(show([talk]));
		expect(rms(tail(state.play(0.4, tone(440, 0.2)).left))).toBe(0);
	});

	it('goes on the same when it is told the same again', () => {
		const settings = [withStrip('a', { highPassHz: 100 })];
		const { left } = desk(settings).play(0.16, tone(300, 0.4));
		const told = desk(settings);
		const pieces = Array.from({ length: 10 }, () => {
			told.set(show([withStrip('a', { highPassHz: 100 })]));
			return [...told.play(0.016, tone(300, 0.4)).left];
		}).flat();
		expect(pieces).toEqual([...left]);
	});

	it('makes no garbage: nothing for a channel, and a few numbers for a block of 128 samples', () => {
		const script = fileURLToPath(new URL('../../../tests/support/mix-memory.ts', import.meta.url));
		// So much room for what is new that nothing is collected while it is counted.
		const flags = ['--expose-gc', '--min-semi-space-size=256', '--max-semi-space-size=256', '--import', 'tsx'];
		const printed = execFileSync(process.execPath, [...flags, script], { encoding: 'utf8' });
		const [two, sixteen] = JSON.parse(printed) as [number, number];
		// A number that goes from function to function takes 16 bytes.
		expect(sixteen).toBeLessThan(400);
		expect(sixteen - two).toBeLessThan(14 * 16);
	});
});

/** Loudest part of the spectrum that is not near the tone, in dB below the tone: what a click or zipper would raise. */
function besideTone(samples: Float32Array, hz: number): number {
	const length = 8192;
	const windowed = Float64Array.from({ length }, (_, i) => samples[i]! * Math.sin((Math.PI * (i + 0.5)) / length) ** 4);
	const power = (at: number) => {
		let [re, im] = [0, 0];
		for (let i = 0; i < length; i++) {
			re += windowed[i]! * Math.cos((2 * Math.PI * at * i) / RATE);
			im += windowed[i]! * Math.sin((2 * Math.PI * at * i) / RATE);
		}
		return re * re + im * im;
	};
	const beside = [3000, 5000, 7000, 9000, 12_000, 15_000, 19_000].map((from) =>
		Math.max(...Array.from({ length: 8 }, (_, i) => power(from + 60 * i))),
	);
	return 10 * Math.log10(Math.max(...beside) / power(hz));
}

describe('a change while it sounds', () => {
	const changes: [string, Partial<Strip>, Partial<Channel>][] = [
		['the fader', {}, { gainDb: -12 }],
		['mute', {}, { muted: true }],
		['pan', { pan: -1 }, {}],
		['trim', { trimDb: -10 }, {}],
		['the high-pass', { highPassHz: 300 }, {}],
		['the equaliser', { eq: plainStrip().eq.map((b) => ({ ...b, gainDb: 9 })) as Strip['eq'] }, {}],
		['delay', { delayMs: 33 }, {}],
		['the compressor', { compressor: { ...plainStrip().compressor, on: true, thresholdDb: -40 } }, {}],
	];
	it.each(changes)('of %s makes no click and no zipper', (_, strip, part) => {
		const state = desk([channel('a')]);
		state.play(0.3, tone(500, 0.4));
		state.set(show([withStrip('a', strip, part)]));
		const { left } = state.play(0.2, tone(500, 0.4));
		expect(besideTone(left, 500)).toBeLessThan(-70);
	});

	it('the yardstick itself hears a click', () => {
		const samples = Float32Array.from({ length: 9600 }, (_, i) => (i < 4000 ? 1 : 0.3) * tone(500, 0.4)(i + 20));
		expect(besideTone(samples, 500)).toBeGreaterThan(-60);
	});
});

describe('dynamics', () => {
	const memory = soundMemory();
	const block = memory.floats(BLOCK);
	/** What comes out of one when a sound goes in. */
	function over(one: Compressor | Gate, sound: Sound, seconds: number): Float32Array {
		const out = new Float32Array(BLOCK * Math.round((seconds * RATE) / BLOCK));
		for (let at = 0; at < out.length; at += BLOCK) {
			for (let i = 0; i < BLOCK; i++) block[i] = sound(at + i);
			one.run(block, null);
			out.set(block, at);
		}
		return out;
	}

	it('a compressor follows its curve, with a soft knee', () => {
		expect(compressedBy(-40, -20, 4)).toBe(0);
		expect(compressedBy(-20, -20, 4)).toBeCloseTo((-0.75 * 9) / 12, 9);
		expect(compressedBy(0, -20, 4)).toBeCloseTo(-15, 9);
		const compressor = new Compressor(memory, BLOCK);
		compressor.set({ on: true, thresholdDb: -20, ratio: 4, attackMs: 5, releaseMs: 100, makeupDb: 0 }, RATE);
		const loud = over(compressor, tone(1000, 1), 1);
		// The tone's peaks are not in every step of a third of a millisecond, so its level is a little under 0 dB.
		expect(db(rms(tail(loud)) * Math.SQRT2)).toBeGreaterThan(-15.5);
		expect(db(rms(tail(loud)) * Math.SQRT2)).toBeLessThan(-14);
	});

	it('a gate closes on what is quiet, after a while, and opens at once', () => {
		const gate = new Gate(memory, BLOCK);
		gate.set({ on: true, thresholdDb: -40, depthDb: 30 }, RATE);
		const run = (amplitude: number, seconds: number) =>
			db(rms(tail(over(gate, tone(500, amplitude), seconds), 0.2)) * Math.SQRT2) - db(amplitude);
		expect(run(0.1, 0.48)).toBeCloseTo(0, 1);
		expect(run(0.001, 0.12)).toBeCloseTo(0, 1);
		expect(run(0.001, 2)).toBeCloseTo(-30, 1);
		expect(run(0.1, 0.04)).toBeCloseTo(0, 1);
	});
});

describe('what is automatic', () => {
	it('music dips under speech by its depth, and comes back', () => {
		const channels = [channel('voice', { group: 'speech' }), channel('music', { group: 'music', ducked: true })];
		const state = desk(channels);
		const music = tone(2000, 0.2);
		const level = (speech: Sound, seconds: number) => {
			state.play(seconds, speech, music);
			return levelsAt(state.mixer.readings, READINGS).automaticDb;
		};
		expect(level(silence, 0.5)).toBeCloseTo(0, 1);
		expect(level(tone(300, 0.2), 1)).toBeCloseTo(-12, 0);
		expect(level(silence, 6)).toBeCloseTo(0, 0);
	});

	it('four open microphones together are as loud as one', () => {
		const names = ['a', 'b', 'c', 'd'];
		const shared = desk(names.map((id) => channel(id, { group: 'speech', shares: true })));
		let seed = 1;
		const noise: Sound = () => ((seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 31 - 1) * 0.1;
		const together = rms(tail(shared.play(2, noise, noise, noise, noise).left));
		const alone = rms(tail(desk([channel('a')]).play(2, noise).left));
		expect(db(together / alone)).toBeCloseTo(0, 0);
		// One speaks, three hear the room: the one has it all.
		shared.play(1, tone(300, 0.2), tone(310, 0.002), tone(320, 0.002), silence);
		expect(levelsAt(shared.mixer.readings, 0).automaticDb).toBeGreaterThan(-0.5);
		expect(levelsAt(shared.mixer.readings, READINGS).automaticDb).toBeLessThan(-30);
	});

	it('a channel follows its picture, and a group turns all of its channels down', () => {
		const camera = plainSource('camera', 'Camera', { kind: 'standInCamera', standIn: 'lectern' });
		const scenes = [plainScene('one', 'One', [wholeLayer('l', 'camera')]), plainScene('two', 'Two', [])];
		const channels = [channel('a', { sourceId: 'camera', follow: 'onAir', group: 'music' })];
		const base = { sources: [camera], scenes };
		const plan = (program: string, setup: Partial<Setup> = {}) =>
			mixPlan(show(channels, { ...base, ...setup }, { program }), () => 0, 1, false).channels[0]!;
		expect(plan('one')).toMatchObject({ gain: 1, rampMs: 300 });
		expect(plan('two').gain).toBe(0);
		const groups = { ...plainMix().groups, music: { gainDb: -6.0206, muted: false } };
		expect(plan('one', { mix: { ...plainMix(), groups } }).gain).toBeCloseTo(0.5, 4);
		groups.music.muted = true;
		expect(plan('one', { mix: { ...plainMix(), groups } }).gain).toBe(0);
	});

	it('a clip’s channel is open at once, since its sound begins with it, and fades at its end', () => {
		const film = plainSource('film', 'Film', { kind: 'clip', ...plainClip([wholeItem('m', 'Film', 1000)]) });
		const scenes = [plainScene('one', 'One', [wholeLayer('l', 'film')]), plainScene('two', 'Two', [])];
		const channels = [channel('a', { sourceId: 'film', follow: 'onAir' })];
		const plan = (program: string) =>
			mixPlan(show(channels, { sources: [film], scenes }, { program }), () => 0, 1, false).channels[0]!;
		expect(plan('one')).toMatchObject({ gain: 1, rampMs: 20 });
		expect(plan('two')).toMatchObject({ gain: 0, rampMs: 300 });
	});

	it('presets set what they name and leave trim, delay and fader alone', () => {
		const before = withStrip('a', { trimDb: 5, delayMs: 40, pan: -0.3 }, { gainDb: -7 });
		const voice = withPreset(before, 'speaking voice');
		expect(voice).toMatchObject({ gainDb: -7, group: 'speech', shares: true, ducked: false });
		expect(voice.strip).toMatchObject({ trimDb: 5, delayMs: 40, pan: -0.3, highPassHz: 100 });
		expect(withPreset(voice, 'choir')).toMatchObject({ group: 'music', shares: false, ducked: true });
	});
});

describe('readings', () => {
	it('tell peaks, power and correlation since the last reading, clipping and hum, and are set back', () => {
		const state = desk([channel('a'), channel('b'), channel('c')]);
		const hum: Sound = (i) => tone(50, 0.1)(i) + tone(100, 0.03)(i);
		const opposite: [Sound, Sound] = [tone(400, 0.2), (i) => -tone(400, 0.2)(i)];
		state.play(1, hum, (i) => Math.max(-1, Math.min(1, tone(300, 3)(i))), opposite);
		const into = new Float32Array(state.mixer.readings.length);
		drainReadings(state.mixer.readings, into);
		const [a, b, c] = [0, 1, 2].map((i) => levelsAt(into, READINGS * i));
		expect(a!.hum).toBeGreaterThan(0.95);
		expect(a!.clipped).toBe(0);
		expect(b!.clipped).toBeGreaterThan(1000);
		expect(b!.hum).toBeLessThan(0.05);
		expect(c!.correlation).toBeCloseTo(-1, 3);
		expect(c!.rms[0] * Math.SQRT2).toBeCloseTo(0.2, 2);
		expect(c!.peakIn).toBeCloseTo(0.2, 3);
		drainReadings(state.mixer.readings, into);
		expect(levelsAt(into, READINGS).peaks).toEqual([0, 0]);
	});
});

/** One channel of the stream mix, from its input to behind its fader. 48 kHz, blocks of BLOCK samples. */
import type { Strip } from '../show/mix/mix.ts';
import { bandOf, FilterRow, highPass, type Coefficients } from './biquad.ts';
import { Compressor, Gate } from './dynamics.ts';
import { HumDetector, MEAN_OF } from './hum.ts';
import type { SoundMemory } from './memory.ts';
import type { ChannelPlan } from './mix-plan.ts';
import { Ramp, RAMP_SAMPLES } from './ramp.ts';
import { Reading } from './readings.ts';

export const RATE = 48_000;
export const BLOCK = 128;
/** Holds the longest delay, one second; a power of two. */
const DELAY_SAMPLES = 65_536;
/** How far a change has come that is faded to, per sample. */
const FADE_STEP = 1 / RAMP_SAMPLES;
/** Part of the way that a mean power goes with each block: 30 ms. */
const POWER_STEP = 1 - Math.exp(-BLOCK / (0.03 * RATE));

export class ChannelStrip {
	/** What came out of the newest block; of two that are alike only the left. */
	readonly left: Float32Array;
	readonly right: Float32Array;
	/** Null while the channel is not there. */
	plan: ChannelPlan | null = null;
	/** Mean power before the fader: what gain sharing and ducking listen to. */
	power = 0;
	/** The newest block before the fader, for headphones; filled only while `tapped`. */
	readonly tapLeft = new Float32Array(BLOCK);
	readonly tapRight = new Float32Array(BLOCK);
	tapped = false;
	/** True when both sides of the newest block are the same. */
	alike = false;
	/** Linear gain of ducking and sharing, which the mixer moves. */
	automatic = 1;
	readonly #trim = new Ramp(1);
	readonly #gain = new Ramp(0);
	/** Left to left, right to left, left to right, right to right. */
	readonly #sides = [new Ramp(1), new Ramp(0), new Ramp(0), new Ramp(1)] as const;
	readonly #delay = new Delay();
	readonly #highPass = new FadedFilters(1);
	readonly #equaliser = new FadedFilters(4);
	readonly #gate: Gate;
	readonly #compressor: Compressor;
	readonly #hum = new HumDetector();
	readonly #memory: SoundMemory;
	/** Of what a look at samples tells: the sums of each MEAN_OF of them. */
	readonly #sums: Float64Array;

	constructor(memory: SoundMemory) {
		this.#memory = memory;
		this.#sums = memory.told.subarray(3, 3 + BLOCK / MEAN_OF);
		this.left = memory.floats(BLOCK);
		this.right = memory.floats(BLOCK);
		this.#gate = new Gate(memory, BLOCK);
		this.#compressor = new Compressor(memory, BLOCK);
	}

	set(plan: ChannelPlan): void {
		const { strip } = plan;
		this.plan = plan;
		this.#trim.aim((strip.inverted ? -1 : 1) * 10 ** (strip.trimDb / 20));
		this.#gain.aim(plan.gain, (plan.rampMs / 1000) * RATE);
		sidesOf(strip).forEach((part, i) => this.#sides[i]!.aim(part));
		this.#delay.aim(Math.round((strip.delayMs / 1000) * RATE));
		this.#highPass.aim(strip.highPassHz > 0 ? [highPass(strip.highPassHz, RATE)] : []);
		this.#equaliser.aim(strip.eq.filter(({ gainDb }) => gainDb !== 0).map((band) => bandOf(band, RATE)));
		this.#gate.set(strip.gate, RATE);
		this.#compressor.set(strip.compressor, RATE);
	}

	/** Clears filters and delays after the channel was removed. */
	clear(): void {
		this.plan = null;
		this.power = 0;
		this.#gain.aim(0, 1);
		this.#gain.next();
		this.#delay.clear();
	}

	/**
	 * @param inLeft the left or only sound
	 * @param inRight the right sound; the same array for one alone
	 * @param readings where its levels are told from `at` on
	 */
	run(inLeft: Float32Array, inRight: Float32Array, readings: Float32Array, at: number): void {
		const { left } = this;
		// One sound alone goes its way once, and is on both sides from the fader on.
		const right = inLeft === inRight ? null : this.right;
		this.#readInput(inLeft, right && inRight, readings, at);
		this.#delay.run(left, right);
		this.#highPass.run(left, right);
		this.#gate.run(left, right);
		this.#equaliser.run(left, right);
		this.#compressor.run(left, right);
		readings[at + Reading.gate] = this.#gate.reductionDb;
		readings[at + Reading.compressor] = this.#compressor.reductionDb;
		if (this.tapped) this.#tap(right ?? left);
		this.#fade(right);
	}

	#readInput(inLeft: Float32Array, inRight: Float32Array | null, readings: Float32Array, at: number): void {
		const { left, right } = this;
		left.set(inLeft);
		this.#examine(left, inRight ? 0.5 : 1, readings, at);
		readings[at + Reading.hum]! += this.#hum.run(this.#sums);
		if (inRight) {
			right.set(inRight);
			this.#examine(right, 0.5, readings, at);
		}
		const trim = this.#trim;
		if (trim.settled && trim.value === 1) return;
		for (let i = 0; i < BLOCK; i++) {
			const gain = trim.next();
			left[i]! *= gain;
			if (inRight) right[i]! *= gain;
		}
	}

	/** Adds the levels of one side of the input to the readings; a sample that is no number counts as 0 from here on. */
	#examine(samples: Float32Array, part: number, readings: Float32Array, at: number): void {
		const { kernels, told } = this.#memory;
		kernels.examine(samples.byteOffset, BLOCK, FULL_SCALE, told.byteOffset);
		readings[at + Reading.peakIn] = Math.max(readings[at + Reading.peakIn]!, told[0]!);
		readings[at + Reading.clipped]! += told[1]!;
		readings[at + Reading.powerIn]! += part * told[2]!;
	}

	#tap(right: Float32Array): void {
		const { left, tapLeft, tapRight, plan } = this;
		const [leftToLeft, rightToLeft, leftToRight, rightToRight] = sidesOf(plan!.strip);
		for (let i = 0; i < BLOCK; i++) {
			tapLeft[i] = leftToLeft * left[i]! + rightToLeft * right[i]!;
			tapRight[i] = leftToRight * left[i]! + rightToRight * right[i]!;
		}
	}

	/** @param other null for one sound alone */
	#fade(other: Float32Array | null): void {
		const { left, right } = this;
		const [leftToLeft, rightToLeft, leftToRight, rightToRight] = this.#sides;
		const moves = !(
			this.#gain.settled &&
			leftToLeft.settled &&
			rightToLeft.settled &&
			leftToRight.settled &&
			rightToRight.settled
		);
		const toLeft = leftToLeft.value + rightToLeft.value;
		this.alike = !other && !moves && toLeft === leftToRight.value + rightToRight.value;
		if (this.alike) return this.#fadeAlike(this.#gain.value * toLeft);
		if (!other) right.set(left);
		if (!moves) return this.#cross(this.#gain.value);
		let gain = this.#gain.next();
		let ll = leftToLeft.next();
		let rl = rightToLeft.next();
		let lr = leftToRight.next();
		let rr = rightToRight.next();
		let power = 0;
		for (let i = 0; i < BLOCK; i++) {
			const l = left[i]!;
			const r = right[i]!;
			power += l * l + r * r;
			left[i] = gain * (ll * l + rl * r);
			right[i] = gain * (lr * l + rr * r);
			if (i === BLOCK - 1) continue;
			gain = this.#gain.next();
			ll = leftToLeft.next();
			rl = rightToLeft.next();
			lr = leftToRight.next();
			rr = rightToRight.next();
		}
		this.power += POWER_STEP * (power / (2 * BLOCK) - this.power);
	}

	/** With a fader at rest. */
	#cross(gain: number): void {
		const { kernels, told } = this.#memory;
		const sides = this.#sides;
		kernels.cross(
			this.left.byteOffset,
			this.right.byteOffset,
			BLOCK,
			gain * sides[0].value,
			gain * sides[1].value,
			gain * sides[2].value,
			gain * sides[3].value,
			told.byteOffset,
		);
		this.power += POWER_STEP * (told[0]! / (2 * BLOCK) - this.power);
	}

	/** The most frequent case: one sound alone, in the middle, with a fader at rest. Only `left` is made. */
	#fadeAlike(gain: number): void {
		const { kernels, told } = this.#memory;
		kernels.fade(this.left.byteOffset, BLOCK, gain, told.byteOffset);
		this.power += POWER_STEP * (told[0]! / BLOCK - this.power);
	}
}

/** A sample this high has hit the end of its converter's range. */
const FULL_SCALE = 0.999;

/** As a balance: the side towards which it goes stays as it is, the other is turned down. */
function sidesOf({ pan, width }: Strip): [number, number, number, number] {
	const [toLeft, toRight] = [Math.min(1, 1 - pan), Math.min(1, 1 + pan)];
	switch (width) {
		case 'stereo':
			return [toLeft, 0, 0, toRight];
		case 'mono':
			return [toLeft / 2, toLeft / 2, toRight / 2, toRight / 2];
		case 'left':
			return [toLeft, 0, toRight, 0];
		case 'right':
			return [0, toLeft, 0, toRight];
		case 'swap':
			return [0, toLeft, toRight, 0];
	}
}

/** Two delay lines of one length. A new length is faded to: nothing is skipped, nothing changes its pitch. */
class Delay {
	readonly #lines = [new Float32Array(DELAY_SAMPLES), new Float32Array(DELAY_SAMPLES)] as const;
	#written = 0;
	#now = 0;
	#before = 0;
	#wanted = 0;
	#progress = 1;

	/** @param samples of delay, less than DELAY_SAMPLES */
	aim(samples: number): void {
		this.#wanted = samples;
	}

	clear(): void {
		for (const line of this.#lines) line.fill(0);
	}

	run(left: Float32Array, right: Float32Array | null): void {
		if (this.#progress === 1 && this.#wanted !== this.#now) {
			this.#before = this.#now;
			this.#now = this.#wanted;
			this.#progress = 0;
		}
		this.#pass(left, this.#lines[0]);
		if (right) this.#pass(right, this.#lines[1]);
		this.#written += BLOCK;
		if (this.#progress < 1) this.#progress = Math.min(1, this.#progress + BLOCK * FADE_STEP);
	}

	#pass(samples: Float32Array, line: Float32Array): void {
		const mask = DELAY_SAMPLES - 1;
		const from = this.#written & mask;
		line.set(samples, from);
		let progress = this.#progress;
		if (progress === 1) {
			if (this.#now > 0) for (let i = 0; i < BLOCK; i++) samples[i] = line[(from + i - this.#now) & mask]!;
			return;
		}
		for (let i = 0; i < BLOCK; i++) {
			const now = line[(from + i - this.#now) & mask]!;
			const before = line[(from + i - this.#before) & mask]!;
			samples[i] = before + (now - before) * progress;
			progress = Math.min(1, progress + FADE_STEP);
		}
	}
}

/** Filters in a row. New ones begin with what the old ones remember, and are faded to. */
class FadedFilters {
	readonly #now: FilterRow;
	readonly #before: FilterRow;
	readonly #left = new Float32Array(BLOCK);
	readonly #right = new Float32Array(BLOCK);
	#set: readonly Coefficients[] = [];
	#wanted: readonly Coefficients[] = [];
	#progress = 1;

	constructor(most: number) {
		this.#now = new FilterRow(most);
		this.#before = new FilterRow(most);
	}

	aim(filters: readonly Coefficients[]): void {
		const same = filters.length === this.#wanted.length && filters.every((one, i) => isSame(one, this.#wanted[i]!));
		if (!same) this.#wanted = filters;
	}

	run(left: Float32Array, right: Float32Array | null): void {
		if (this.#progress === 1 && this.#wanted !== this.#set) {
			this.#before.copy(this.#now);
			this.#now.set(this.#wanted);
			this.#set = this.#wanted;
			this.#progress = 0;
		}
		if (this.#progress === 1) return this.#now.run(left, right);
		this.#left.set(left);
		if (right) this.#right.set(right);
		this.#before.run(this.#left, right && this.#right);
		this.#now.run(left, right);
		for (let i = 0; i < BLOCK; i++) {
			const progress = Math.min(1, this.#progress + i * FADE_STEP);
			left[i] = this.#left[i]! + (left[i]! - this.#left[i]!) * progress;
			if (right) right[i] = this.#right[i]! + (right[i]! - this.#right[i]!) * progress;
		}
		this.#progress = Math.min(1, this.#progress + BLOCK * FADE_STEP);
	}
}

function isSame(a: Coefficients, b: Coefficients): boolean {
	return a.every((value, i) => value === b[i]);
}

/**
 * The stream mix: strips, ducking, gain sharing, master, limiter, meters. Works on blocks of BLOCK samples at 48 kHz and
 * allocates nothing while it runs; the worklet only carries samples in and out.
 */
import { Compressor } from './dynamics.ts';
import { Limiter } from './limiter.ts';
import { LoudnessMeter } from './loudness.ts';
import type { SoundMemory } from './memory.ts';
import type { MixPlan } from './mix-plan.ts';
import { Ramp, RAMP_SAMPLES } from './ramp.ts';
import { MASTER_READINGS, MasterReading, Reading, READINGS } from './readings.ts';
import { BLOCK, ChannelStrip, RATE } from './strip.ts';

export { BLOCK };
/** Power below which nobody speaks, and shared gains stay where they are: −90 dBFS. */
const SHARING_FLOOR = 1e-9;
/** Ducking and sharing move this part of their way in a block: 10 ms, enough for a first syllable. */
const AUTOMATIC_STEP = partOfWay(10);
const SILENCE = new Float32Array(BLOCK);

/** Smoothing coefficient for one block: the part of the remaining way that is covered, for a time constant of `timeMs`. */
function partOfWay(timeMs: number): number {
	return 1 - Math.exp(-BLOCK / ((timeMs / 1000) * RATE));
}

/**
 * What headphones hear: the mix as viewers get it, one channel before its fader, so that it can be judged before it is
 * opened, or channels together behind theirs.
 */
export type Listened =
	{ to: 'nothing' | 'mix' } | { to: 'channel'; input: number } | { to: 'group'; inputs: readonly number[] };

/**
 * The mix without some channels, before the master: for somebody who is heard in them, speaks from afar, and must not hear
 * themselves.
 */
export class MixMinus {
	/** The newest block. */
	readonly left = new Float32Array(BLOCK);
	readonly right = new Float32Array(BLOCK);
	/** The sum before the channel that is being added. */
	readonly #before = [new Float32Array(BLOCK), new Float32Array(BLOCK)] as const;

	begin(): void {
		this.left.fill(0);
		this.right.fill(0);
	}

	/** Notes the sum before one of the channels is added. */
	before(left: Float32Array, right: Float32Array): void {
		this.#before[0].set(left);
		this.#before[1].set(right);
	}

	/** Called when it was added: what came to the sum is the channel's own. */
	after(left: Float32Array, right: Float32Array): void {
		const [l, r] = this.#before;
		for (let i = 0; i < BLOCK; i++) {
			this.left[i]! += left[i]! - l[i]!;
			this.right[i]! += right[i]! - r[i]!;
		}
	}

	/** Called when all were added. */
	finish(left: Float32Array, right: Float32Array): void {
		for (let i = 0; i < BLOCK; i++) {
			this.left[i] = left[i]! - this.left[i]!;
			this.right[i] = right[i]! - this.right[i]!;
		}
	}
}

export class Mixer {
	/** READINGS for each channel, then MASTER_READINGS. */
	readonly readings: Float32Array<ArrayBufferLike>;
	readonly loudness: LoudnessMeter;
	/** The newest block. */
	readonly left: Float32Array;
	readonly right: Float32Array;
	/** The newest block for headphones. */
	readonly heardLeft: Float32Array;
	readonly heardRight: Float32Array;
	readonly #memory: SoundMemory;
	#listened: Listened = { to: 'nothing' };
	readonly #strips: ChannelStrip[];
	/** By channel; null for most. */
	readonly #minus: (MixMinus | null)[];
	#minuses: readonly MixMinus[] = [];
	readonly #compressor: Compressor;
	readonly #limiter = new Limiter(RATE);
	readonly #gain = new Ramp(1);
	readonly #hush = new Ramp(1);
	#duck = 1;
	/** The plan's ducking as it is worked with: power of speech, gain under it, parts of the way for each block. */
	#ducking = { power: Infinity, gain: 1, attack: 1, release: 1 };
	/** Power of all that share their gain, and of the loudest that speaks. */
	#sharing = 0;
	#speech = 0;

	/**
	 * @param memory in which its blocks are to lie, its own alone
	 * @param readings of READINGS × channels + MASTER_READINGS numbers, which others may read
	 * @param history what the loudness meter remembers, likewise
	 */
	constructor(
		memory: SoundMemory,
		channels: number,
		readings: Float32Array<ArrayBufferLike> = new Float32Array(READINGS * channels + MASTER_READINGS),
		history?: Float64Array<ArrayBufferLike>,
	) {
		this.readings = readings;
		this.loudness = new LoudnessMeter(history);
		this.#memory = memory;
		const block = () => memory.floats(BLOCK);
		[this.left, this.right, this.heardLeft, this.heardRight] = [block(), block(), block(), block()];
		this.#compressor = new Compressor(memory, BLOCK);
		this.#strips = Array.from({ length: channels }, () => new ChannelStrip(memory));
		this.#minus = this.#strips.map(() => null);
		this.#limiter.set(-1);
	}

	set(plan: MixPlan): void {
		this.#strips.forEach((strip, i) => {
			const channel = plan.channels[i];
			if (channel) strip.set(channel);
			else if (strip.plan) this.#clear(strip, i);
		});
		const { depthDb, thresholdDb, attackMs, releaseMs } = plan.ducking;
		this.#ducking = {
			power: 10 ** (thresholdDb / 10),
			gain: 10 ** (-depthDb / 20),
			attack: partOfWay(attackMs),
			release: partOfWay(releaseMs),
		};
		const { gain, compressor, ceilingDb } = plan.master;
		this.#gain.aim(gain);
		this.#compressor.set(compressor, RATE);
		this.#limiter.set(ceilingDb);
		this.#hush.aim(plan.hushed ? 0 : 1, RAMP_SAMPLES * 0.75);
	}

	/** Changes what headphones hear, and nothing else. */
	listen(listened: Listened): void {
		this.#listened = listened;
		this.#strips.forEach((strip, i) => (strip.tapped = listened.to === 'channel' && listened.input === i));
	}

	/**
	 * Makes mixes without some channels each, in place of those made before.
	 * @param parts numbers of the channels by mix; a channel is left out of one mix at most
	 * @returns in their order, filled with each block from the next one on
	 */
	leaveOut(parts: readonly (readonly number[])[]): readonly MixMinus[] {
		this.#minus.fill(null);
		this.#minuses = parts.map((inputs) => {
			const minus = new MixMinus();
			for (const input of inputs) this.#minus[input] = minus;
			return minus;
		});
		return this.#minuses;
	}

	#clear(strip: ChannelStrip, index: number): void {
		strip.clear();
		this.readings.fill(0, READINGS * index, READINGS * (index + 1));
	}

	/**
	 * Makes the next block in `left` and `right`.
	 * @param inputs by channel its sounds: none, one, or left and right
	 */
	run(inputs: readonly (readonly Float32Array[])[]): void {
		const strips = this.#strips;
		this.left.fill(0);
		this.right.fill(0);
		this.heardLeft.fill(0);
		this.heardRight.fill(0);
		let sharing = 0;
		let speech = 0;
		for (let c = 0; c < strips.length; c++) {
			const strip = strips[c]!;
			if (!strip.plan) continue;
			const left = inputs[c]?.[0] ?? SILENCE;
			strip.run(left, inputs[c]?.[1] ?? left, this.readings, READINGS * c);
			const { shares, speaks, gain } = strip.plan;
			if (gain === 0) continue;
			if (shares) sharing += strip.power;
			if (speaks && strip.power > speech) speech = strip.power;
		}
		this.#sharing = sharing;
		this.#speech = speech;
		this.#moveDuck();
		for (const minus of this.#minuses) minus.begin();
		const listened = this.#listened;
		for (let c = 0; c < strips.length; c++) {
			const strip = strips[c]!;
			if (!strip.plan) continue;
			const minus = this.#minus[c]!;
			minus?.before(this.left, this.right);
			const apart = listened.to === 'group' && listened.inputs.includes(c);
			this.#add(strip, READINGS * c, apart);
			minus?.after(this.left, this.right);
			if (strip.tapped) this.#hear(strip.tapLeft, strip.tapRight);
		}
		for (const minus of this.#minuses) minus.finish(this.left, this.right);
		this.#finish();
		if (listened.to === 'mix') this.#hear(this.left, this.right);
	}

	/** What dips under speech follows the loudest speaker's level. */
	#moveDuck(): void {
		const speaks = this.#speech > this.#ducking.power;
		const target = speaks ? this.#ducking.gain : 1;
		this.#duck += (speaks ? this.#ducking.attack : this.#ducking.release) * (target - this.#duck);
	}

	/**
	 * Gain sharing after D. Dugan, "Automatic Microphone Mixing", J. Audio Eng. Soc. 23 (1975): each microphone has the
	 * part of the gain that its level is of all their levels, so that all of them together are as loud as one.
	 */
	#add(strip: ChannelStrip, at: number, apart: boolean): void {
		const { left, plan } = strip;
		const right = strip.alike ? left : strip.right;
		const { kernels } = this.#memory;
		const sharing = this.#sharing;
		const share = plan!.shares && plan!.gain > 0 && sharing > SHARING_FLOOR ? Math.sqrt(strip.power / sharing) : 1;
		const target = share * (plan!.ducked ? this.#duck : 1);
		const gain = strip.automatic;
		strip.automatic += AUTOMATIC_STEP * (target - gain);
		const slope = (strip.automatic - gain) / BLOCK;
		const l = left.byteOffset;
		const r = right.byteOffset;
		kernels.add(l, r, this.left.byteOffset, this.right.byteOffset, BLOCK, gain, slope);
		if (apart) {
			kernels.sum(this.heardLeft.byteOffset, l, BLOCK);
			kernels.sum(this.heardRight.byteOffset, r, BLOCK);
		}
		this.#addLevels(left, right, at);
		this.readings[at + Reading.automatic] = strip.automatic;
	}

	/** Adds the levels of a block to its readings. */
	#addLevels(left: Float32Array, right: Float32Array, at: number): void {
		const { readings } = this;
		const { kernels, told } = this.#memory;
		kernels.levels(left.byteOffset, right.byteOffset, BLOCK, told.byteOffset);
		readings[at + Reading.peakLeft] = Math.max(readings[at + Reading.peakLeft]!, told[0]!);
		readings[at + Reading.peakRight] = Math.max(readings[at + Reading.peakRight]!, told[1]!);
		readings[at + Reading.squareLeft]! += told[2]!;
		readings[at + Reading.squareRight]! += told[3]!;
		readings[at + Reading.product]! += told[4]!;
		readings[at + Reading.samples]! += BLOCK;
	}

	#hear(left: Float32Array, right: Float32Array): void {
		this.heardLeft.set(left);
		this.heardRight.set(right);
	}

	#finish(): void {
		const { left, right, readings, loudness } = this;
		for (let i = 0; i < BLOCK; i++) {
			const gain = this.#gain.next();
			left[i]! *= gain;
			right[i]! *= gain;
		}
		this.#compressor.run(left, right);
		this.#limiter.run(left, right);
		const at = READINGS * this.#strips.length;
		for (let i = 0; i < BLOCK; i++) {
			const hush = this.#hush.next();
			left[i]! *= hush;
			right[i]! *= hush;
		}
		this.#addLevels(left, right, at);
		loudness.run(left, right);
		readings[at + Reading.compressor] = this.#compressor.reductionDb;
		readings[at + MasterReading.momentary] = loudness.momentary;
		readings[at + MasterReading.shortTerm] = loudness.shortTerm;
		readings[at + MasterReading.integrated] = loudness.integrated;
		readings[at + MasterReading.range] = loudness.range;
		readings[at + MasterReading.truePeak] = loudness.truePeakDb;
		readings[at + MasterReading.limiter] = this.#limiter.reductionDb;
	}
}

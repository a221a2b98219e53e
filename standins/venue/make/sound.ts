/** Makes the stand-in console's sound: somebody talks, a harmonium and a fiddle play, air in between. */

const RATE = 48_000;
const LENGTH_S = 20;
const SAMPLES = RATE * LENGTH_S;

let state = 20261128;
/** Repeatable white noise, −1 to 1. */
function noise(): number {
	state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
	return state / 2 ** 31 - 1;
}

/** A resonance: two-pole filter at `hz` with bandwidth `widthHz`. */
function resonance(widthHz: number): (input: number, hz: number) => number {
	let [y1, y2] = [0, 0];
	const r = Math.exp((-Math.PI * widthHz) / RATE);
	return (input, hz) => {
		const y = (1 - r) * input + 2 * r * Math.cos((2 * Math.PI * hz) / RATE) * y1 - r * r * y2;
		[y1, y2] = [y, y1];
		return y;
	};
}

/** Formants of five vowels, Hz: the syllables walk through them. */
const VOWELS = [
	[730, 1090, 2440],
	[270, 2290, 3010],
	[570, 840, 2410],
	[530, 1840, 2480],
	[300, 870, 2240],
] as const;

/** Speech-like: pulses through moving formants, syllables of a quarter second, phrases with rests between. */
function speech(): Float32Array {
	const out = new Float32Array(SAMPLES);
	const formants = [resonance(80), resonance(110), resonance(160)];
	let phase = 0;
	for (let i = 0; i < SAMPLES; i++) {
		const t = i / RATE;
		const phrase = t % 5 < 3.6 ? 1 : 0;
		const syllable = t / 0.24;
		const within = syllable % 1;
		const envelope = phrase * Math.sin(Math.PI * Math.min(1, within * 1.25)) ** 2;
		const pitch = 165 + 22 * Math.sin(2 * Math.PI * 0.4 * t) - 18 * (t % 5) * 0.5;
		phase += pitch / RATE;
		const pulse = phase % 1 < 0.06 ? 1 : -0.06;
		const breath = within < 0.18 ? noise() * 0.5 : noise() * 0.02;
		const vowel = VOWELS[Math.floor(syllable * 2.7) % VOWELS.length]!;
		let voice = 0;
		for (let f = 0; f < 3; f++) voice += formants[f]!(pulse + breath, vowel[f]!) / (f + 1);
		out[i] = voice * envelope * 6;
	}
	return out;
}

const hzOf = (note: number) => 440 * 2 ** ((note - 69) / 12);
const CHORDS = [
	[50, 57, 62, 66],
	[55, 59, 62, 67],
	[52, 59, 64, 67],
	[57, 61, 64, 69],
];

/** Harmonium-like: reeds, each with many partials and a slow beat. Notes are set so that the loop closes. */
function harmonium(): Float32Array {
	const out = new Float32Array(SAMPLES);
	for (let i = 0; i < SAMPLES; i++) {
		const t = i / RATE;
		const place = (t / LENGTH_S) * CHORDS.length;
		const swell = Math.min(1, (place % 1) * 12, (1 - (place % 1)) * 12);
		const bellows = 0.8 + 0.2 * Math.sin(2 * Math.PI * 0.5 * t);
		let sum = 0;
		for (const note of CHORDS[Math.floor(place)]!)
			for (let partial = 1; partial <= 7; partial++)
				sum += Math.sin(2 * Math.PI * hzOf(note) * partial * t + partial) / partial ** 1.2;
		out[i] = sum * (0.35 + 0.65 * swell) * bellows * 0.1;
	}
	return out;
}

const TUNE = [74, 76, 78, 81, 79, 78, 76, 74, 71, 74, 76, 78, 76, 74, 73, 69];

/** Fiddle-like: a bowed saw with vibrato, one note and a quarter each second. */
function fiddle(): Float32Array {
	const out = new Float32Array(SAMPLES);
	const body = [resonance(120), resonance(200)];
	let phase = 0;
	for (let i = 0; i < SAMPLES; i++) {
		const t = i / RATE;
		const beat = t * 0.8;
		const within = beat % 1;
		const note = TUNE[Math.floor(beat) % TUNE.length]!;
		phase += (hzOf(note) * (1 + 0.005 * Math.sin(2 * Math.PI * 5.6 * t) * Math.min(1, within * 3))) / RATE;
		const bow = Math.min(1, within * 8, (1 - within) * 6);
		const saw = (2 * (phase % 1) - 1) * 0.6 + noise() * 0.02;
		out[i] = (saw * 0.25 + body[0]!(saw, 480) * 3 + body[1]!(saw, 1300) * 2) * bow * 0.35;
	}
	return out;
}

/** Interleaved 16-bit samples of all of it: talk in the middle, harmonium to the left, fiddle to the right. */
export function consoleSound(): Buffer {
	const [talk, reeds, strings] = [speech(), harmonium(), fiddle()].map(normalised) as [
		Float32Array,
		Float32Array,
		Float32Array,
	];
	const pcm = Buffer.alloc(SAMPLES * 4);
	for (let i = 0; i < SAMPLES; i++) {
		const air = noise() * 0.002;
		const [t, h, f] = [talk[i]! * 0.32, reeds[i]! * 0.16, strings[i]! * 0.1];
		const left = t + h * 0.9 + f * 0.35 + air;
		const right = t + h * 0.5 + f * 0.9 + noise() * 0.002;
		pcm.writeInt16LE(Math.round(32767 * Math.max(-1, Math.min(1, left))), i * 4);
		pcm.writeInt16LE(Math.round(32767 * Math.max(-1, Math.min(1, right))), i * 4 + 2);
	}
	return pcm;
}

function normalised(samples: Float32Array): Float32Array {
	let peak = 1e-9;
	for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
	return samples.map((sample) => sample / peak);
}

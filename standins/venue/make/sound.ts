/** Makes the sounds of the stand-in console's inputs: people talk, a choir sings, a harmonium and a fiddle play. */

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

/**
 * Speech-like: pulses through moving formants, syllables of a quarter second, phrases with rests between.
 * @param hz pitch of the voice
 * @param speaksS seconds of each five in which it speaks
 * @param fromS when in the five it begins
 */
function speech(hz: number, speaksS: number, fromS: number): Float32Array {
	const out = new Float32Array(SAMPLES);
	const formants = [resonance(80), resonance(110), resonance(160)];
	let phase = 0;
	for (let i = 0; i < SAMPLES; i++) {
		const t = i / RATE;
		const phrase = (t + 5 - fromS) % 5 < speaksS ? 1 : 0;
		const syllable = t / 0.24;
		const within = syllable % 1;
		const envelope = phrase * Math.sin(Math.PI * Math.min(1, within * 1.25)) ** 2;
		const pitch = hz + 22 * Math.sin(2 * Math.PI * 0.4 * t) - 18 * (t % 5) * 0.5;
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

/** Choir-like: four parts, three voices each a little apart, sung on "ah"; a verse and a breath. */
function choir(spread: number): Float32Array {
	const out = new Float32Array(SAMPLES);
	const vowel = [resonance(90), resonance(120), resonance(180)];
	const phases = new Float64Array(12);
	for (let i = 0; i < SAMPLES; i++) {
		const t = i / RATE;
		const place = (t / LENGTH_S) * CHORDS.length;
		const within = place % 1;
		const breath = Math.min(1, within * 14, Math.max(0, 0.94 - within) * 14);
		let voices = 0;
		CHORDS[Math.floor(place)]!.forEach((note, part) => {
			for (let voice = 0; voice < 3; voice++) {
				const at = 3 * part + voice;
				const drift = 1 + (voice - 1) * 0.004 * spread + 0.004 * Math.sin(2 * Math.PI * (5.1 + 0.3 * voice) * t + at);
				phases[at]! += (hzOf(note + 12) * drift) / RATE;
				voices += (2 * (phases[at]! % 1) - 1) / 12;
			}
		});
		const raw = voices + noise() * 0.01;
		let sung = 0;
		[730, 1090, 2440].forEach((hz, f) => (sung += vowel[f]!(raw, hz) / (f + 1)));
		out[i] = sung * breath;
	}
	return out;
}

/** Film-like: a slow figure over a pad, with its beats on one side or the other. */
function film(side: 0 | 1): Float32Array {
	const out = new Float32Array(SAMPLES);
	for (let i = 0; i < SAMPLES; i++) {
		const t = i / RATE;
		const chord = CHORDS[Math.floor((t / LENGTH_S) * CHORDS.length)]!;
		const beat = t * 2;
		const struck = Math.exp(-4 * (beat % 1)) * (Math.floor(beat) % 2 === side ? 1 : 0.4);
		const note = chord[Math.floor(beat) % 4]! + 12;
		let pad = 0;
		for (const each of chord) pad += Math.sin(2 * Math.PI * hzOf(each) * t * (1 + 0.0005 * side));
		out[i] = pad * 0.08 + struck * Math.sin(2 * Math.PI * hzOf(note) * t) * 0.5;
	}
	return out;
}

/** 16-bit samples of each input by name, as loud as consoles send them: speech peaks some 12 dB below full scale. */
export function consoleInputs(): Record<string, Buffer> {
	const sounds: [string, Float32Array, number][] = [
		['lectern-mic', speech(165, 3.6, 0), 0.3],
		['handheld', speech(118, 2.2, 2.5), 0.25],
		['choir-left', choir(1), 0.2],
		['choir-right', choir(1.6), 0.2],
		['fiddle', fiddle(), 0.16],
		['harmonium', harmonium(), 0.18],
		['film-left', film(0), 0.25],
		['film-right', film(1), 0.25],
		['talkback', speech(140, 0.9, 4), 0.25],
	];
	return asPcm(sounds);
}

/** The same of guests' voices, as browsers level them. */
export function guestVoices(): Record<string, Buffer> {
	return asPcm([
		['cold-tarn', speech(205, 3.2, 0.5), 0.4],
		['three-larches', speech(128, 2.6, 2.2), 0.4],
	]);
}

function asPcm(
	sounds: readonly (readonly [name: string, samples: Float32Array, peak: number])[],
): Record<string, Buffer> {
	return Object.fromEntries(
		sounds.map(([name, samples, peak]) => {
			const pcm = Buffer.alloc(SAMPLES * 2);
			normalised(samples).forEach((sample, i) =>
				pcm.writeInt16LE(Math.round(32_767 * (sample * peak + noise() * 0.0004)), 2 * i),
			);
			return [name, pcm];
		}),
	);
}

function normalised(samples: Float32Array): Float32Array {
	let peak = 1e-9;
	for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
	return samples.map((sample) => sample / peak);
}

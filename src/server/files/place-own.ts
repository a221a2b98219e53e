/** Finds where a guest's own recording belongs beside what was recorded at the desk: where the same voice is heard. */
import { setImmediate as afterOthers } from 'node:timers/promises';
import { ALL_FORMATS, EncodedPacketSink, FilePathSource, Input } from 'mediabunny';
import { OpusDecoder } from 'opus-decoder';
import { findWithin } from '../../core/sound/find-within.ts';
import { placeBy, type Look, type Placed } from '../../core/sound/placing.ts';
import { WavPart } from './wav-part.ts';

/** Sounds are compared at this rate, and were recorded at so many times it. */
const RATE = 8000;
const LOWER_BY = 6;
/** Length of what is looked for. */
const LOOK_S = 1;
const MOST_LOOKS = 60;
const LEAST_APART_S = 1;
/** A decoder hears some packets before it hears right (RFC 7845, section 4.6). */
const SETTLE_S = 0.08;
const QUIET_RMS = 1e-3;
/** How far the place may be from where clocks say. */
const FURTHEST_S = 3.5;

/**
 * @param file of the guest, with a voice in Opus
 * @param sounds files of what was recorded apart, beginning with those that are most likely theirs
 * @param aboutS where it begins in them by the clocks, seconds
 * @returns null when they are nowhere heard in it for certain
 */
export async function placeOwn(file: string, sounds: readonly string[], aboutS: number): Promise<Placed | null> {
	const input = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
	const parts = await Promise.all(sounds.map((sound) => WavPart.open(sound)));
	try {
		const track = await input.getPrimaryAudioTrack();
		if (track?.codec !== 'opus') return null;
		const sink = new EncodedPacketSink(track);
		const begin = await track.getFirstTimestamp();
		const lastS = (await track.computeDuration()) - LOOK_S - SETTLE_S;
		const apartS = Math.max(LEAST_APART_S, (lastS - begin) / MOST_LOOKS);
		const moments = Array.from({ length: MOST_LOOKS }, (_, i) => begin + i * apartS).filter((atS) => atS <= lastS);
		let best: Placed | null = null;
		for (const part of parts) {
			const placed = placeBy(await looksIn(part, sink, moments, aboutS));
			if (placed && (!best || (placed.isExact && !best.isExact))) best = placed;
			if (best?.isExact) break;
		}
		return best;
	} finally {
		input.dispose();
		await Promise.all(parts.map((part) => part.close()));
	}
}

/** Where what is said at some moments is heard in a sound; what cannot be heard there is left out. */
async function looksIn(
	part: WavPart,
	sink: EncodedPacketSink,
	moments: readonly number[],
	aboutS: number,
): Promise<Look[]> {
	const looks: Look[] = [];
	for (const moment of moments) {
		const voice = await voiceAt(sink, moment);
		if (!voice || rms(voice.samples) < QUIET_RMS) continue;
		const from = Math.round((aboutS + voice.atS - FURTHEST_S) * RATE);
		const there = await part.read(LOWER_BY, from, voice.samples.length + 2 * FURTHEST_S * RATE);
		// Others have their turn in between.
		await afterOthers();
		const found = rms(there) < QUIET_RMS ? null : findWithin(voice.samples, there);
		if (found !== null) looks.push({ atS: voice.atS, thereS: (from + found) / RATE });
	}
	return looks;
}

/** What is said at a moment, at `RATE`. */
async function voiceAt(sink: EncodedPacketSink, atS: number): Promise<{ samples: Float32Array; atS: number } | null> {
	const first = (await sink.getPacket(atS)) ?? (await sink.getFirstPacket());
	if (!first) return null;
	const frames: Uint8Array[] = [];
	for await (const packet of sink.packets(first)) {
		if (packet.timestamp > atS + LOOK_S + SETTLE_S) break;
		frames.push(packet.data);
	}
	const decoder = new OpusDecoder({ sampleRate: RATE, preSkip: 0 });
	try {
		await decoder.ready;
		const { channelData } = decoder.decodeFrames(frames);
		const skipped = Math.round(SETTLE_S * RATE);
		const length = Math.min(channelData[0]!.length - skipped, Math.round(LOOK_S * RATE));
		const samples = Float32Array.from({ length: Math.max(0, length) }, (_, i) =>
			channelData.reduce((sum, side) => sum + side[skipped + i]! / channelData.length, 0),
		);
		return { samples, atS: first.timestamp + SETTLE_S };
	} finally {
		decoder.free();
	}
}

function rms(samples: Float32Array): number {
	return Math.sqrt(samples.reduce((sum, sample) => sum + sample * sample, 0) / Math.max(1, samples.length));
}

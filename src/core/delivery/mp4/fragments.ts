/**
 * The fragments of an MP4 (ISO/IEC 14496-12, 8.8): each stands alone behind the header, so that what was written is
 * playable whatever comes after, and none of it has to be remembered.
 */
import type { AudioConfig, MediaPacket, VideoConfig } from '../uplink.ts';
import { ascii, box, bytesOf, fullBox, u32, u64 } from './boxes.ts';
import { AUDIO_TRACK, VIDEO_SCALE, VIDEO_TRACK } from './header.ts';

/** The longest that a piece may last, microseconds: what a power cut may cost. */
const FRAGMENT_US = 1e6;

/** Sample flags (8.8.3.1): a picture that needs no other, and one that does. */
const STANDS_ALONE = 0x0200_0000;
const NEEDS_OTHERS = 0x0101_0000;

/** One track's samples in the fragment that is being filled. */
interface Run {
	track: number;
	scale: number;
	/** For the last sample, whose successor is not known yet; in the track's scale. */
	usualDuration: number;
	packets: MediaPacket[];
}

export class Fragments {
	#runs: Run[];
	#number = 0;
	#startUs: number | null = null;

	/** @param audio null for a picture without sound */
	constructor({ fps }: Pick<VideoConfig, 'fps'>, audio: Pick<AudioConfig, 'sampleRate'> | null) {
		this.#runs = [{ track: VIDEO_TRACK, scale: VIDEO_SCALE, usualDuration: VIDEO_SCALE / fps, packets: [] }];
		if (audio) this.#runs.push({ track: AUDIO_TRACK, scale: audio.sampleRate, usualDuration: 1024, packets: [] });
	}

	/**
	 * Takes a packet; those of one kind come in order of time.
	 * @returns pieces to be written one after the other, when the packet begins a new fragment
	 */
	add(packet: MediaPacket): Uint8Array[] {
		const due = this.#startUs !== null && packet.timeUs - this.#startUs >= FRAGMENT_US;
		const pieces = due ? this.flush() : [];
		this.#startUs ??= packet.timeUs;
		this.#runs[packet.kind === 'video' ? 0 : 1]?.packets.push(packet);
		return pieces;
	}

	/** What has not been written yet. */
	flush(): Uint8Array[] {
		const runs = this.#runs.filter(({ packets }) => packets.length > 0);
		this.#startUs = null;
		if (runs.length === 0) return [];
		const number = ++this.#number;
		// A fragment says where its samples lie, counted from its own beginning; how long it is does not depend on that.
		const headerBytes = fragmentHeader(number, runs, 0).length + 8;
		const payload = runs.flatMap(({ packets }) => packets.map(({ data }) => data));
		const header = fragmentHeader(number, runs, headerBytes);
		for (const run of this.#runs) run.packets = [];
		return [header, u32(8 + bytesOf(payload)), ascii('mdat'), ...payload];
	}
}

function fragmentHeader(number: number, runs: readonly Run[], firstAt: number): Uint8Array {
	let at = firstAt;
	const parts = runs.map((run) => {
		const part = runHeader(run, at);
		at += bytesOf(run.packets.map(({ data }) => data));
		return part;
	});
	return box('moof', fullBox('mfhd', 0, 0, u32(number)), ...parts);
}

/** @param at where the first sample lies, counted from the start of the fragment */
function runHeader({ track, scale, usualDuration, packets }: Run, at: number): Uint8Array {
	const times = packets.map(({ timeUs }) => Math.round((timeUs * scale) / 1e6));
	const samples = packets.flatMap(({ data, key }, i) => {
		const next = times[i + 1] ?? times[i]! + Math.round(usualDuration);
		return [Math.max(0, next - times[i]!), data.length, key ? STANDS_ALONE : NEEDS_OTHERS];
	});
	return box(
		'traf',
		// Places are counted from the start of the fragment (0x20000).
		fullBox('tfhd', 0, 0x02_0000, u32(track)),
		fullBox('tfdt', 1, 0, u64(times[0]!)),
		// It has a place (1), and for each sample duration, size and flags (0x700).
		fullBox('trun', 0, 0x701, u32(packets.length, at, ...samples)),
	);
}

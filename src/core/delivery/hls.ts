/** HLS (RFC 8216) of one received stream: fragmented MP4 segments of a few seconds, of which the newest are listed. */
import {
	EncodedAudioPacketSource,
	EncodedPacket,
	EncodedVideoPacketSource,
	Mp4OutputFormat,
	NullTarget,
	Output,
} from 'mediabunny';

/** Key frames come every 2 s; a segment is cut at the first one after this long. */
const SEGMENT_S = 1.9;
const LISTED = 6;
/** Segments that a player keeps in hand before it shows anything. */
const PLAYERS_KEEP = 3;
/** How long a segment is, where none has been made yet. */
const ROUND_SEGMENT_S = 2;
/** Samples of a frame of AAC, and samples a second. */
const AAC_FRAME = 1024;
const SAMPLE_RATE = 48_000;
/** Segments stay longer than they are listed, for players that are behind (section 6.2.2). */
const KEPT = 20;

interface Segment {
	name: string;
	durationS: number;
	bytes: number;
	/** When it was sent, milliseconds since 1970; null where nobody says. */
	at: number | null;
	init: string;
	/** True when its time line or coding does not follow on from the segment before. */
	discontinuity: boolean;
}

/**
 * Pieces are counted from here, so that their numbers stay small: a player that was given a discontinuity sequence of 1.8
 * thousand million never showed a picture.
 */
const COUNTED_FROM_MS = Date.UTC(2026, 0, 1);

/** The playlist and segments of one place; goes on over reconnections of its publisher. */
export class HlsShelf {
	#files = new Map<string, Uint8Array>();
	#segments: Segment[] = [];
	#dropped = 0;
	#droppedDiscontinuities = 0;
	#count = 0;
	#sessions = 0;
	ended = false;
	/** What its pieces are counted from; discontinuities, of which there are few, from a sixtieth of it. */
	readonly #first: number;
	readonly #prefix: string;
	readonly #wallClock: (() => number) | null;
	/** Size and codecs of what came last. */
	#coding: { width: number; height: number; codecs: string } | null = null;

	/**
	 * @param prefix of all names; another one for each shelf where a web cache keeps them
	 * @param wallClock milliseconds since 1970, by which pieces are dated; and counted from the second in which the shelf
	 * is made, so that one that goes on for another, on whichever server, counts on: players do not go back
	 */
	constructor({ prefix = '', wallClock = null }: { prefix?: string; wallClock?: (() => number) | null } = {}) {
		this.#first = wallClock ? Math.max(0, Math.floor((wallClock() - COUNTED_FROM_MS) / 1000)) : 0;
		this.#prefix = prefix;
		this.#wallClock = wallClock;
	}

	/** Attributes of it in a main playlist (section 4.3.4.2); null before the first segment. */
	form(): string | null {
		const recent = this.#segments.slice(-LISTED);
		if (!this.#coding || recent.length === 0) return null;
		const { width, height, codecs } = this.#coding;
		const peak = Math.max(...recent.map(({ bytes, durationS }) => (8 * bytes) / durationS));
		const size = width > 0 && height > 0 ? `,RESOLUTION=${width}x${height}` : '';
		return `BANDWIDTH=${Math.ceil(peak)}${size},CODECS="${codecs}"`;
	}

	file(name: string): Uint8Array | undefined {
		return this.#files.get(name);
	}

	/** The media playlist, or null before the first segment. */
	playlist(): string | null {
		if (this.#segments.length === 0) return null;
		const listed = this.#segments.slice(-LISTED);
		const before = this.#segments.slice(0, -LISTED);
		const longest = Math.max(...listed.map(({ durationS }) => durationS));
		const lines = [
			'#EXTM3U',
			'#EXT-X-VERSION:7',
			`#EXT-X-TARGETDURATION:${Math.ceil(longest)}`,
			`#EXT-X-MEDIA-SEQUENCE:${this.#first + this.#dropped + before.length}`,
			`#EXT-X-DISCONTINUITY-SEQUENCE:${Math.floor(this.#first / 60) + this.#droppedDiscontinuities + before.filter((each) => each.discontinuity).length}`,
			'#EXT-X-INDEPENDENT-SEGMENTS',
		];
		let init = '';
		for (const segment of listed) {
			if (segment.discontinuity) lines.push('#EXT-X-DISCONTINUITY');
			if (segment.init !== init) lines.push(`#EXT-X-MAP:URI="${segment.init}"`);
			init = segment.init;
			if (segment.at !== null) lines.push(`#EXT-X-PROGRAM-DATE-TIME:${new Date(segment.at).toISOString()}`);
			lines.push(`#EXTINF:${segment.durationS.toFixed(3)},`, segment.name);
		}
		if (this.ended) lines.push('#EXT-X-ENDLIST');
		return lines.join('\n') + '\n';
	}

	/** How long after it is shown at the desk a viewer sees a picture: three segments, as players keep them. */
	get expectedDelayS(): number {
		const recent = this.#segments.slice(-PLAYERS_KEEP);
		return recent.length === 0
			? PLAYERS_KEEP * ROUND_SEGMENT_S
			: Math.round(recent.reduce((sum, { durationS }) => sum + durationS, 0));
	}

	/** Begins the stream of a new connection. */
	begin(video: Uint8Array, size: { width: number; height: number }, audio: Uint8Array): HlsWriter {
		const session = ++this.#sessions;
		this.ended = false;
		const init = `${this.#prefix}init-${session}.mp4`;
		let first = true;
		/** The time of the stream's beginning, milliseconds since 1970. */
		let beganAt: number | null = null;
		this.#coding = { ...size, codecs: `${codecOf(video)},mp4a.40.2` };
		return new HlsWriter(video, size, audio, {
			began: (startS) => (beganAt = this.#wallClock && this.#wallClock() - 1000 * startS),
			init: (bytes) => this.#files.set(init, bytes),
			segment: (bytes, durationS, startS) => {
				const name = `${this.#prefix}part-${++this.#count}.m4s`;
				const at = beganAt === null ? null : Math.round(beganAt + 1000 * startS);
				this.#files.set(name, bytes);
				const discontinuity = first && this.#segments.length > 0;
				this.#segments.push({ name, durationS, bytes: bytes.length, at, init, discontinuity });
				first = false;
				if (this.#segments.length > KEPT) this.#drop();
			},
		});
	}

	#drop(): void {
		const [old] = this.#segments.splice(0, 1);
		this.#dropped++;
		if (old!.discontinuity) this.#droppedDiscontinuities++;
		this.#files.delete(old!.name);
	}
}

interface HlsParts {
	/** The first packet is there. */
	began: (startS: number) => void;
	init: (bytes: Uint8Array) => void;
	segment: (bytes: Uint8Array, durationS: number, startS: number) => void;
}

/** Name of H.264 by its configuration (RFC 6381, section 3.3). */
function codecOf(description: Uint8Array): string {
	return `avc1.${[...description.subarray(1, 4)].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`;
}

/** Cuts one stream into an initialisation section and segments. */
export class HlsWriter {
	#output: Output;
	#video = new EncodedVideoPacketSource('avc');
	#audio = new EncodedAudioPacketSource('aac');
	#videoMeta: Parameters<EncodedVideoPacketSource['add']>[1];
	#audioMeta: Parameters<EncodedAudioPacketSource['add']>[1];
	#queue: Promise<unknown>;
	#newestS = 0;
	#began: ((startS: number) => void) | null;

	constructor(video: Uint8Array, size: { width: number; height: number }, audio: Uint8Array, parts: HlsParts) {
		let head: Uint8Array[] = [];
		let moof: { bytes: Uint8Array; startS: number } | null = null;
		this.#output = new Output({
			format: new Mp4OutputFormat({
				fastStart: 'fragmented',
				minimumFragmentDuration: SEGMENT_S,
				onFtyp: (bytes) => void head.push(bytes.slice()),
				onMoov: (bytes) => {
					parts.init(joined([...head, bytes]));
					head = [];
				},
				onMoof: (bytes, _position, startS) => void (moof = { bytes: bytes.slice(), startS }),
				onMdat: (bytes) => {
					if (moof)
						parts.segment(joined([moof.bytes, bytes]), Math.max(0.001, this.#newestS - moof.startS), moof.startS);
					moof = null;
				},
			}),
			target: new NullTarget(),
		});
		this.#output.addVideoTrack(this.#video);
		this.#output.addAudioTrack(this.#audio);
		const codec = codecOf(video);
		this.#began = parts.began;
		this.#videoMeta = {
			decoderConfig: { codec, codedWidth: size.width, codedHeight: size.height, description: video },
		};
		this.#audioMeta = {
			decoderConfig: { codec: 'mp4a.40.2', sampleRate: 48_000, numberOfChannels: 2, description: audio },
		};
		this.#queue = this.#output.start();
	}

	addPicture(nalUnits: Uint8Array, key: boolean, timestampMs: number): Promise<unknown> {
		return this.#then(() => {
			this.#newestS = timestampMs / 1000;
			this.#began?.(this.#newestS);
			this.#began = null;
			const packet = new EncodedPacket(nalUnits, key ? 'key' : 'delta', timestampMs / 1000, 0);
			return this.#video.add(packet, this.#videoMeta);
		});
	}

	addSound(frame: Uint8Array, timestampMs: number): Promise<unknown> {
		return this.#then(() =>
			this.#audio.add(new EncodedPacket(frame, 'key', timestampMs / 1000, AAC_FRAME / SAMPLE_RATE), this.#audioMeta),
		);
	}

	end(): Promise<unknown> {
		return this.#then(() => this.#output.finalize());
	}

	#then(step: () => Promise<unknown>): Promise<unknown> {
		return (this.#queue = this.#queue.then(step));
	}
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
	const whole = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
	let at = 0;
	for (const part of parts) {
		whole.set(part, at);
		at += part.length;
	}
	return whole;
}

/**
 * What an RTMP camera sends, as packets for the desk: on a time without steps, within limits, and with the reason when it
 * cannot be used. Keeps what a desk that comes later needs to begin with.
 */
import { ProtocolError } from '../delivery/bytes.ts';
import { parseAudioTag, parseVideoTag } from '../delivery/flv.ts';
import type { IngestEvent } from '../delivery/rtmp/server.ts';
import { aacForm, avcCodec } from './codecs.ts';
import { MOST_FEED_BYTES, type FeedPacket, type Gone } from './feed.ts';
import { StraightTime } from './straight-time.ts';

/** What a camera may send, averaged over two seconds: four times what any host takes. */
const MOST_BYTES_A_SECOND = 5e6;
const MOST_PACKETS_A_SECOND = 600;
const BUDGET_MS = 2000;
/** Packets of a group of pictures that are kept for a desk that comes later, and their bytes. */
const MOST_KEPT = 600;
const MOST_KEPT_BYTES = 8e6;
/** Composition offsets are of B-frames: a second is far more than any encoder looks ahead. */
const MOST_OFFSET_MS = 1000;

export class CameraFeed {
	readonly #time = new StraightTime();
	readonly #emit: (packet: FeedPacket) => void;
	#videoConfig: FeedPacket | null = null;
	#audioConfig: FeedPacket | null = null;
	/** The group of pictures that is under way, from its key frame on; empty while it is too much to keep. */
	#group: FeedPacket[] = [];
	#groupBytes = 0;
	#budget = { bytes: 0, packets: 0, since: -Infinity };
	#isOver = false;

	constructor(emit: (packet: FeedPacket) => void) {
		this.#emit = emit;
	}

	/** Time stamps that have stepped so far. */
	get steps(): number {
		return this.#time.steps;
	}

	/** What somebody who comes now needs: configurations, and pictures from the last key frame on. */
	get beginning(): FeedPacket[] {
		const configs = [this.#videoConfig, this.#audioConfig].filter((config) => config !== null);
		return [{ kind: 'begun' }, ...configs, ...this.#group];
	}

	/**
	 * @param now milliseconds of a clock without steps
	 * @returns why the camera's connection is to be ended; null when it goes on
	 */
	receive(event: IngestEvent, now: number): Gone | null {
		if (this.#isOver || event.kind === 'metadata') return null;
		if (event.kind === 'unpublished') return this.end('left');
		if (!this.#spend(event.body.length, now)) return this.end('flood');
		try {
			if (event.kind === 'video') this.#receiveVideo(event.timestampMs, event.body, now);
			else this.#receiveAudio(event.timestampMs, event.body, now);
			return null;
		} catch (error) {
			if (!(error instanceof ProtocolError)) throw error;
			return this.end(isOtherCodec(event) ? 'otherCodec' : 'rubbish');
		}
	}

	/** Ends the feed, once. */
	end(why: Gone): Gone {
		if (!this.#isOver) this.#emit({ kind: 'gone', why });
		this.#isOver = true;
		return why;
	}

	#spend(bytes: number, now: number): boolean {
		const budget = this.#budget;
		if (now - budget.since >= BUDGET_MS) this.#budget = { bytes, packets: 1, since: now };
		else {
			budget.bytes += bytes;
			budget.packets++;
		}
		const { bytes: spent, packets } = this.#budget;
		const seconds = BUDGET_MS / 1000;
		return (
			bytes <= MOST_FEED_BYTES && spent <= MOST_BYTES_A_SECOND * seconds && packets <= MOST_PACKETS_A_SECOND * seconds
		);
	}

	#receiveVideo(stampMs: number, body: Uint8Array, now: number): void {
		const tag = parseVideoTag(body);
		if (tag.kind === 'end') return;
		if (tag.kind === 'config') {
			avcCodec(tag.description);
			this.#videoConfig = { kind: 'videoConfig', description: tag.description.slice() };
			this.#group = [];
			return this.#emit(this.#videoConfig);
		}
		if (!this.#videoConfig || tag.data.length === 0) return;
		const offset = Math.min(MOST_OFFSET_MS, Math.max(-MOST_OFFSET_MS, tag.compositionOffsetMs));
		const timeUs = Math.round(1000 * (this.#time.at('video', stampMs, now) + offset));
		const packet: FeedPacket = { kind: 'video', timeUs, key: tag.key, reordered: offset !== 0, data: tag.data.slice() };
		this.#keep(packet, tag.key, tag.data.length);
		this.#emit(packet);
	}

	#keep(packet: FeedPacket, key: boolean, bytes: number): void {
		if (key) [this.#group, this.#groupBytes] = [[packet], bytes];
		else if (this.#group.length > 0) {
			this.#group.push(packet);
			this.#groupBytes += bytes;
		}
		if (this.#group.length > MOST_KEPT || this.#groupBytes > MOST_KEPT_BYTES) this.#group = [];
	}

	#receiveAudio(stampMs: number, body: Uint8Array, now: number): void {
		const tag = parseAudioTag(body);
		if (tag.kind === 'config') {
			aacForm(tag.data);
			this.#audioConfig = { kind: 'audioConfig', description: tag.data.slice() };
			return this.#emit(this.#audioConfig);
		}
		if (!this.#audioConfig || tag.data.length === 0) return;
		const timeUs = Math.round(1000 * this.#time.at('audio', stampMs, now));
		this.#emit({ kind: 'audio', timeUs, data: tag.data.slice() });
	}
}

/** H.264 in FLV is codec 7, AAC is sound format 10 (FLV specification, annex E.4). */
function isOtherCodec(event: Extract<IngestEvent, { body: Uint8Array }>): boolean {
	const [first] = event.body;
	if (first === undefined || event.body.length < 5) return false;
	return event.kind === 'video' ? (first & 0x0f) !== 7 || first >= 0x80 : first >> 4 !== 10;
}

/** One rendition of a broadcast: packets in order, handed to its publishers and the recording. */
import { Interleaver } from '../../core/delivery/interleave.ts';
import { steppedKbps } from '../../core/delivery/rates.ts';
import type { AudioConfig, MediaPacket, VideoConfig } from '../../core/delivery/uplink.ts';
import { log } from '../log.ts';
import type { PublishOrder } from './connection.ts';
import { Publisher } from './publisher.ts';
import type { Recording } from './recording.ts';

/** A queue that holds more than this of the rendition's own rate means that the way is too narrow for it. */
const CROWDED_S = 1.5;
const EMPTY_S = 0.3;
/** After a step the queue is given time to show what it brought. */
const DOWN_EVERY_MS = 4000;
const UP_AFTER_MS = 20_000;

export class Stream {
	readonly publishers: Publisher[];
	/** What is recorded of it, if anything. */
	#recording: Recording | null;
	#interleaver = new Interleaver<MediaPacket>();
	video: VideoConfig | null = null;
	#audio: AudioConfig | null = null;
	#changed: () => void;
	readonly #joined: () => void;
	/** Rate now and as planned, kbit/s. */
	readonly rate: { kbps: number; plannedKbps: number };
	#steppedAt = 0;
	#easySince = 0;

	/**
	 * @param changed called when the state of a destination changes
	 * @param joined called when a host or another file takes packets, from the next key frame on
	 */
	constructor(
		orders: readonly PublishOrder[],
		plannedKbps: number,
		recording: Recording | null,
		changed: () => void,
		joined: () => void = () => {},
	) {
		this.#joined = joined;
		this.#changed = changed;
		this.#recording = recording;
		this.rate = { kbps: plannedKbps, plannedKbps };
		this.publishers = orders.map((order) => new Publisher(order, changed, joined));
	}

	configure(video: VideoConfig | null, audio: AudioConfig | null): void {
		this.video = video ?? this.video;
		this.#audio = audio ?? this.#audio;
		if (!this.video || !this.#audio) return;
		for (const publisher of this.publishers) publisher.configure(this.video, this.#audio);
		this.#recording?.configure(this.video, this.#audio);
	}

	/** Goes on being recorded in another file. */
	record(recording: Recording): void {
		this.#recording = recording;
		if (this.video && this.#audio) recording.configure(this.video, this.#audio);
		this.#joined();
	}

	/** Takes a packet whose time is on the broadcast's line. */
	push(packet: MediaPacket): void {
		this.#send(this.#interleaver.push(packet));
	}

	/** Sends what still waits for the other kind. */
	flush(): void {
		this.#send(this.#interleaver.flush());
	}

	/** Sends packets that are in order already. */
	#send(packets: readonly MediaPacket[]): void {
		for (const packet of packets) {
			for (const publisher of this.publishers) publisher.send(packet);
			this.#recording?.write(packet);
		}
	}

	/**
	 * Brings all figures up to date; called about once a second.
	 * @returns the rate to encode at from now on, or null when it stays
	 */
	measure(now: number): number | null {
		for (const publisher of this.publishers) publisher.measure(now);
		const { rate } = this;
		const live = this.publishers.filter(({ status }) => status.phase === 'live');
		const queueS = Math.max(0, ...live.map(({ status }) => (status.queueBytes * 8) / 1000 / rate.kbps));
		if (queueS > EMPTY_S || live.length === 0) this.#easySince = now;
		if (queueS > CROWDED_S && now - this.#steppedAt >= DOWN_EVERY_MS) return this.#step('down', now);
		const mayRise = rate.kbps < rate.plannedKbps && now - Math.max(this.#easySince, this.#steppedAt) >= UP_AFTER_MS;
		return mayRise ? this.#step('up', now) : null;
	}

	#step(direction: 'down' | 'up', now: number): number | null {
		this.#steppedAt = now;
		const kbps = steppedKbps(this.rate.kbps, this.rate.plannedKbps, direction);
		if (kbps === this.rate.kbps) return null;
		const to = this.publishers.map(({ order }) => order.name);
		log.info({ to, from: this.rate.kbps, kbps }, `The rate goes ${direction}`);
		this.rate.kbps = kbps;
		return kbps;
	}

	/** Replaces what is known of a destination, and tries it again with that. */
	renew(order: PublishOrder): void {
		const at = this.publishers.findIndex((publisher) => publisher.order.id === order.id);
		if (at < 0) return;
		const [old] = this.publishers.splice(at, 1, new Publisher(order, this.#changed, this.#joined));
		void old!.end();
		if (this.video && this.#audio) this.publishers[at]!.configure(this.video, this.#audio);
	}

	/** Lets go of every destination, in the middle. */
	cut(): void {
		for (const publisher of this.publishers) publisher.cut();
	}

	/** Sends the rest and ends every destination in good order. */
	async end(): Promise<void> {
		this.flush();
		await Promise.all(this.publishers.map((publisher) => publisher.end()));
	}
}

/** Isolated tracks of a broadcast: a file for each, all on the broadcast's line of time. */
import { FIRST_TRACK, type MediaPacket, type PcmPacket, type VideoConfig } from '../../core/delivery/uplink.ts';
import type { Timeline } from '../../core/delivery/timeline.ts';
import { writeFaultOf, type WriteFault } from '../../core/show/delivery/write-fault.ts';
import type { TrackStatus } from '../../core/show/messages.ts';
import type { Track } from '../../core/show/delivery/tracks.ts';
import { log } from '../log.ts';
import { Recording } from './recording.ts';
import { WavFile } from './wav-file.ts';

/** A track with the path of its file. */
export interface TrackOrder {
	track: Track;
	file: string;
}

/** Where a file begins on the broadcast's line; null while that is not known, and nothing is written yet. */
type FromUs = () => number | null;

export type TrackPacket = VideoConfig | MediaPacket | PcmPacket;

/** Packets that come before the first key frame of the program's file wait for their place: some seconds of all there may be. */
const MOST_EARLY_BYTES = 64e6;
/** A packet further ahead of the program than this has no time of this engine's clock. */
const MOST_AHEAD_US = 10e6;

export class Tracks {
	#files: TrackFile[];
	#changed: () => void;
	/** Where the newest of them begin. */
	#fromUs: FromUs;
	#early: TrackPacket[] = [];
	#earlyBytes = 0;

	/**
	 * @param changed called when one of them begins or fails
	 * @param fromUs where the files begin on the broadcast's line
	 */
	constructor(orders: readonly TrackOrder[], changed: () => void, fromUs: FromUs = () => 0) {
		this.#changed = changed;
		this.#fromUs = fromUs;
		this.#files = orders.map((order) => this.#fileOf(order, fromUs));
	}

	#fileOf({ track, file }: TrackOrder, fromUs: FromUs): TrackFile {
		return track.kind === 'source'
			? new PictureFile(track.name, file, this.#changed, fromUs)
			: new SoundFile(track.name, track.sides, file, this.#changed, fromUs);
	}

	/**
	 * Goes on in other files; what there is of those before is kept.
	 * @param orders by order of the tracks; null where one stays as it is
	 * @param fromUs where these files begin on the broadcast's line: all at one moment, and with the program's
	 */
	recordAgain(orders: readonly (TrackOrder | null)[], fromUs: FromUs): void {
		this.#fromUs = fromUs;
		orders.forEach((order, i) => {
			const before = this.#files[i];
			if (!order || !before) return;
			void before.end();
			const next = this.#fileOf(order, fromUs);
			if (before.config) next.take(before.config, 0);
			this.#files[i] = next;
		});
	}

	/** By order of the broadcast's tracks. */
	get statuses(): Omit<TrackStatus, 'id'>[] {
		return this.#files.map(({ name, phase, fault, bytes }) => ({ name, phase, fault, bytes }));
	}

	/** An engine has attached whose clock is not that of the one before. */
	attach(): void {
		this.#early = [];
		this.#earlyBytes = 0;
		for (const file of this.#files) file.interrupt();
	}

	receive(packet: TrackPacket, timeline: Timeline): void {
		if (!timeline.anchored || this.#fromUs() === null) {
			this.#earlyBytes += 'data' in packet ? packet.data.length : 0;
			if (this.#earlyBytes < MOST_EARLY_BYTES) this.#early.push(packet);
			return;
		}
		this.#earlyBytes = 0;
		for (const each of [...this.#early.splice(0), packet]) {
			const timeUs = 'timeUs' in each ? timeline.onLine(each.timeUs)! : 0;
			if (timeUs > timeline.lastUs + MOST_AHEAD_US) continue;
			this.#files[each.rendition - FIRST_TRACK]?.receive(each, timeUs);
		}
	}

	/** Ends all of them; the program goes on. */
	async stop(fault: WriteFault): Promise<void> {
		await Promise.all(this.#files.map((file) => file.stop(fault)));
	}

	async end(): Promise<void> {
		await Promise.all(this.#files.map((file) => file.end()));
	}
}

abstract class TrackFile {
	readonly name: string;
	phase: TrackStatus['phase'] = 'waiting';
	fault: WriteFault | null = null;
	readonly changed: () => void;
	/** How its pictures are encoded, where it has any and that is known. */
	config: VideoConfig | null = null;
	readonly #fromUs: FromUs;

	constructor(name: string, changed: () => void, fromUs: FromUs) {
		this.name = name;
		this.changed = changed;
		this.#fromUs = fromUs;
	}

	abstract get bytes(): number;

	/** @param timeUs on the broadcast's line */
	receive(packet: TrackPacket, timeUs: number): void {
		this.take(packet, timeUs - this.#fromUs()!);
	}

	/** @param timeUs from the file's beginning */
	abstract take(packet: TrackPacket, timeUs: number): void;
	/** What comes next does not follow what came last. */
	abstract interrupt(): void;
	protected abstract close(): Promise<void>;
	#ending: Promise<void> | null = null;

	end(): Promise<void> {
		return (this.#ending ??= this.close());
	}

	become(phase: TrackStatus['phase'], fault: WriteFault | null = null): void {
		if (this.phase === phase && this.fault?.code === fault?.code) return;
		this.phase = phase;
		this.fault = fault;
		this.changed();
	}

	async stop(fault: WriteFault): Promise<void> {
		if (this.phase !== 'failed') this.become('failed', fault);
		await this.end();
	}
}

class PictureFile extends TrackFile {
	#recording: Recording;
	/** Pictures that build on others have no use before the next one that stands alone. */
	#flows = false;
	#lastUs = -1;

	constructor(name: string, file: string, changed: () => void, fromUs: FromUs) {
		super(name, changed, fromUs);
		this.#recording = new Recording(file, () => this.#update());
	}

	#update(): void {
		const { phase, fault } = this.#recording.status;
		if (this.phase !== 'failed' && phase !== 'off') this.become(phase, fault);
	}

	get bytes(): number {
		this.#recording.measure();
		return this.#recording.status.bytes;
	}

	take(packet: TrackPacket, timeUs: number): void {
		if (this.phase === 'failed') return;
		if (packet.kind === 'videoConfig') {
			const known = this.config;
			if (known && Buffer.compare(known.description, packet.description) !== 0)
				return void this.stop({ code: 'otherSize', about: {} });
			this.config = packet;
			return this.#recording.configure(packet, null);
		}
		if (packet.kind !== 'video') return;
		// What a desk that stood still hands over late may lie before what was written.
		if (timeUs < 0 || timeUs <= this.#lastUs) return this.interrupt();
		this.#flows ||= packet.key;
		if (!this.#flows) return;
		this.#lastUs = timeUs;
		this.#recording.write({ ...packet, timeUs });
	}

	interrupt(): void {
		this.#flows = false;
	}

	protected close(): Promise<void> {
		return this.#recording.end();
	}
}

class SoundFile extends TrackFile {
	#file: string;
	#sides: number;
	#wav: WavFile | null = null;
	#beginning: Promise<void> | null = null;
	#waiting: { timeUs: number; data: Uint8Array }[] = [];

	constructor(name: string, sides: number, file: string, changed: () => void, fromUs: FromUs) {
		super(name, changed, fromUs);
		this.#file = file;
		this.#sides = sides;
	}

	get bytes(): number {
		return this.#wav?.bytes ?? 0;
	}

	take(packet: TrackPacket, timeUs: number): void {
		if (packet.kind !== 'pcm' || this.phase === 'failed') return;
		if (this.#wav) return this.#wav.write(timeUs, packet.data);
		this.#waiting.push({ timeUs, data: packet.data });
		this.#beginning ??= this.#begin();
	}

	async #begin(): Promise<void> {
		const fail = (error: NodeJS.ErrnoException) => {
			log.error({ file: this.#file, err: error }, 'A sound cannot be recorded apart');
			this.become('failed', writeFaultOf(error));
		};
		try {
			const wav = await WavFile.begin(this.#file, this.#sides, fail);
			for (const { timeUs, data } of this.#waiting.splice(0)) wav.write(timeUs, data);
			this.#wav = wav;
			if (this.phase === 'waiting') this.become('recording');
		} catch (error) {
			this.#waiting = [];
			fail(error as NodeJS.ErrnoException);
		}
	}

	interrupt(): void {}

	protected async close(): Promise<void> {
		await this.#beginning;
		await this.#wav?.end();
	}
}

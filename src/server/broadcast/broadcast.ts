/** One broadcast: takes the engine's packets, puts them on one line of time, and hands them to all who want them. */
import { Interleaver } from '../../core/delivery/interleave.ts';
import { Timeline } from '../../core/delivery/timeline.ts';
import type { AudioConfig, MediaPacket, UplinkPacket, VideoConfig } from '../../core/delivery/uplink.ts';
import type { RecordingStatus } from '../../core/show/live.ts';
import { log } from '../log.ts';
import { Publisher, type PublishOrder } from './publisher.ts';
import { Recorder } from './recorder.ts';

/** The engine sends a packet every few hundredths of a second; silence longer than this means it is gone. */
const SILENT_MS = 1000;
/** Time for the engine's last packets to arrive when a broadcast ends. */
const LAST_PACKETS_MS = 1500;

export interface BroadcastPlan {
	id: string;
	orders: PublishOrder[];
	/** Path of the program's file. */
	recordingFile: string;
	/** Told when the state of a destination or of the recording changes. */
	changed: () => void;
}

export class Broadcast {
	readonly id: string;
	readonly publishers: Publisher[];
	readonly recording: RecordingStatus = { phase: 'off', file: '', bytes: 0, reason: '' };
	#plan: BroadcastPlan;
	#video: VideoConfig | null = null;
	#audio: AudioConfig | null = null;
	#recorder: Promise<Recorder | null> | null = null;
	#beforeRecorder: MediaPacket[] = [];
	#openRecorder: Recorder | null = null;
	#interleaver = new Interleaver<MediaPacket>();
	#timeline = new Timeline();
	#session = '';
	#firstPacketAt = 0;
	#lastPacketAt = 0;
	#engineDone: (() => void) | null = null;

	constructor(plan: BroadcastPlan) {
		this.#plan = plan;
		this.id = plan.id;
		this.publishers = plan.orders.map((order) => new Publisher(order, plan.changed));
	}

	/** True while the engine's packets arrive. */
	get receiving(): boolean {
		return Date.now() - this.#lastPacketAt < SILENT_MS;
	}

	/**
	 * An engine has connected its uplink.
	 * @param session names the engine's clock: the same one may come back after a broken connection
	 */
	attach(session: string): void {
		if (session === this.#session) return;
		this.#session = session;
		this.#send(this.#interleaver.flush());
		this.#timeline.attach();
	}

	receive(packet: UplinkPacket): void {
		const now = Date.now();
		this.#lastPacketAt = now;
		if (packet.kind === 'end') return this.#engineDone?.();
		if (packet.kind === 'videoConfig') this.#video = packet;
		else if (packet.kind === 'audioConfig') this.#audio = packet;
		else return this.#receiveMedia(packet, now);
		if (this.#video && this.#audio) this.#configure(this.#video, this.#audio);
	}

	#configure(video: VideoConfig, audio: AudioConfig): void {
		for (const publisher of this.publishers) publisher.configure(video, audio);
		this.#recorder ??= this.#record(video, audio);
	}

	#receiveMedia(packet: MediaPacket, now: number): void {
		if (!this.#video || !this.#audio) return;
		if (!this.#timeline.anchored) {
			if (packet.kind !== 'video' || !packet.key) return;
			this.#firstPacketAt ||= now;
			this.#timeline.anchor(packet.timeUs, (now - this.#firstPacketAt) * 1000, 1e6 / this.#video.fps);
		}
		const timeUs = this.#timeline.place(packet.timeUs);
		if (timeUs !== null) this.#send(this.#interleaver.push({ ...packet, timeUs }));
	}

	#send(packets: MediaPacket[]): void {
		for (const packet of packets) {
			for (const publisher of this.publishers) publisher.send(packet);
			if (this.#openRecorder) this.#openRecorder.write(packet);
			else if (this.recording.phase !== 'failed') this.#beforeRecorder.push(packet);
		}
	}

	async #record(video: VideoConfig, audio: AudioConfig): Promise<Recorder | null> {
		const fail = (error: Error) => {
			log.error({ broadcast: this.id, err: error }, 'The program cannot be recorded');
			const full = (error as NodeJS.ErrnoException).code === 'ENOSPC';
			const reason = full
				? 'The disk is full. Make room; the broadcast itself goes on.'
				: `The recording cannot be written (${(error as NodeJS.ErrnoException).code ?? error.message}). The broadcast itself goes on.`;
			Object.assign(this.recording, { phase: 'failed', reason });
			this.#beforeRecorder = [];
			this.#plan.changed();
		};
		try {
			const recorder = await Recorder.begin(this.#plan.recordingFile, video, audio, fail);
			for (const packet of this.#beforeRecorder.splice(0)) recorder.write(packet);
			this.#openRecorder = recorder;
			Object.assign(this.recording, { phase: 'recording', file: recorder.file });
			this.#plan.changed();
			return recorder;
		} catch (error) {
			fail(error as Error);
			return null;
		}
	}

	/** Brings all figures up to date; called about once a second. */
	measure(now: number): void {
		for (const publisher of this.publishers) publisher.measure(now);
		if (this.#openRecorder) this.recording.bytes = this.#openRecorder.bytes;
	}

	/** Replaces what is known of a destination, and tries it again with that. */
	renew(order: PublishOrder): void {
		const at = this.publishers.findIndex((publisher) => publisher.order.id === order.id);
		if (at < 0) return;
		const [old] = this.publishers.splice(at, 1, new Publisher(order, this.#plan.changed));
		void old!.end();
		if (this.#video && this.#audio) this.publishers[at]!.configure(this.#video, this.#audio);
	}

	retry(destinationId: string): void {
		this.publishers.find(({ order }) => order.id === destinationId)?.retry();
	}

	/** Sends what still arrives from the engine, then ends every destination and the recording in good order. */
	async end(): Promise<void> {
		if (this.receiving)
			await Promise.race([
				new Promise<void>((resolve) => (this.#engineDone = resolve)),
				new Promise((resolve) => setTimeout(resolve, LAST_PACKETS_MS)),
			]);
		this.#send(this.#interleaver.flush());
		const recorder = await this.#recorder;
		await Promise.all([...this.publishers.map((publisher) => publisher.end()), recorder?.end()]);
		if (recorder) this.recording.bytes = recorder.bytes;
		if (this.recording.phase === 'recording') this.recording.phase = 'off';
	}
}

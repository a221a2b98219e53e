/**
 * Encodes the stream mix as AAC and carries all packets to the server over one WebSocket. When the connection
 * breaks it comes back, and begins again with a key frame.
 */
import { registerAacEncoder } from '@mediabunny/aac-encoder';
import { AudioSample, AudioSampleSource, MkvOutputFormat, NullTarget, Output, type EncodedPacket } from 'mediabunny';
import { SOUND_KBPS } from '../core/delivery/rates.ts';
import { Together } from '../core/delivery/together.ts';
import { encodeUplink, FIRST_TRACK, type Downlink } from '../core/delivery/uplink.ts';
import { toPcm24 } from '../core/sound/wav.ts';
import type { FromUplink, ToUplink, ToUplinkPort } from './messages.ts';
import { ServerSocket } from './server-socket.ts';
import { UplinkAddress } from './uplink-address.ts';
import {
	AAC_FRAME,
	Control,
	counterAfter,
	RING_SAMPLES,
	SAMPLE_RATE,
	TRACK_RING_SAMPLES,
	type SharedMemory,
	type TrackMemory,
} from './shared.ts';

/** More than this waiting to be sent means that the way to the server is blocked: pictures are dropped. */
const MAX_QUEUE_BYTES = 4 * 1024 * 1024;
/** Blocks of isolated sound that are sent at a time. */
const TRACK_BLOCKS = 8;
/** AAC's first frame holds no sound of its own; what is put in comes out this many samples later. */
const ENCODER_DELAY_SAMPLES = 1024;

registerAacEncoder();

const post = (message: FromUplink) => postMessage(message);
let uplink: Uplink | null = null;

onmessage = ({ data }: MessageEvent<ToUplink>) => {
	if (data.type === 'start') uplink = new Uplink(data);
	else uplink?.stop();
};

class Uplink {
	#memory: SharedMemory;
	#tracks: TrackMemory;
	/** The first block of isolated sound that was not sent yet. */
	#trackBlock = 0;
	#port: MessagePort;
	#socket: ServerSocket;
	readonly #together = new Together<Uint8Array<ArrayBuffer>>((packet) => this.#socket.send(packet));
	/** The newest configurations, sent again on each connection. */
	#videoConfigs = new Map<number, Uint8Array<ArrayBuffer>>();
	#audioConfig: Uint8Array<ArrayBuffer> | null = null;
	/** The holding card's loops, sent again likewise. */
	#loops = new Map<number, Uint8Array<ArrayBuffer>[]>();
	/** Renditions whose next picture must stand alone are not here. */
	#flowing = new Set<number>();
	#stopping = false;
	#picturesDone = false;
	#soundDone: Promise<void>;

	constructor({ memory, tracks, url, port }: Extract<ToUplink, { type: 'start' }>) {
		this.#memory = memory;
		this.#tracks = tracks;
		this.#port = port;
		port.onmessage = ({ data }: MessageEvent<ToUplinkPort>) => this.#handlePicture(data);
		post({ type: 'state', state: 'connecting', reason: '' });
		this.#socket = this.#connect(url);
		this.#soundDone = this.#encodeSound().catch((error: unknown) => {
			post({ type: 'failed', trouble: { code: 'soundEncoding', about: { problem: (error as Error).message } } });
		});
	}

	/** A connection begins with its configurations; what was encoded without one is gone. */
	#connect(url: string): ServerSocket {
		const address = new UplinkAddress(url);
		const socket = new ServerSocket(() => address.next());
		socket.onopen = () => {
			address.opened();
			this.#together.clear();
			post({ type: 'state', state: 'open', reason: '' });
			const configs = [...this.#videoConfigs.values(), this.#audioConfig, ...[...this.#loops.values()].flat()];
			for (const packet of configs) if (packet) socket.send(packet);
			this.#requestKeyFrames();
		};
		socket.onheard = (data) => this.#port.postMessage(JSON.parse(data as string) as Downlink);
		socket.onclose = ({ reason }) => {
			if (!this.#stopping) post({ type: 'state', state: 'lost', reason });
		};
		return socket;
	}

	#requestKeyFrames(): void {
		this.#flowing.clear();
		this.#port.postMessage({ needKey: true } satisfies Downlink);
	}

	#handlePicture(message: ToUplinkPort): void {
		if ('done' in message) {
			this.#picturesDone = true;
			return void this.#finish();
		}
		const { packet, kind, rendition } = message;
		if (kind === 'config') this.#videoConfigs.set(rendition, packet.slice());
		if (kind === 'hold')
			this.#loops.set(rendition, [...(message.first ? [] : (this.#loops.get(rendition) ?? [])), packet.slice()]);
		if (!this.#isOpen) return;
		if (kind === 'key') this.#flowing.add(rendition);
		if (kind === 'delta' && !this.#flowing.has(rendition)) return;
		if (this.#socket.bufferedAmount > MAX_QUEUE_BYTES) return this.#requestKeyFrames();
		this.#together.picture(packet);
		post({ type: 'queue', bytes: this.#socket.bufferedAmount });
	}

	get #isOpen(): boolean {
		return this.#socket.readyState === ServerSocket.OPEN;
	}

	async #encodeSound(): Promise<void> {
		const source = new AudioSampleSource({
			codec: 'aac',
			bitrate: SOUND_KBPS * 1000,
			onEncodedPacket: (packet, metadata) => this.#sendSound(packet, metadata),
		});
		// The container goes nowhere; only the packets are wanted.
		const output = new Output({ format: new MkvOutputFormat({ appendOnly: true }), target: new NullTarget() });
		output.addAudioTrack(source);
		await output.start();

		const { control, ring } = this.#memory;
		let block = Atomics.load(control, Control.blocks);
		this.#trackBlock = block;
		while (!this.#stopping) {
			const written = await counterAfter(control, Control.blocks, block);
			if (written - this.#trackBlock >= TRACK_BLOCKS) this.#sendTracks(written);
			for (; block < written; block++) {
				// Held up for longer than the ring keeps: silence takes the place of what was overwritten, because the
				// encoder counts on from its first sample and would put all that follows too early.
				const kept = Atomics.load(control, Control.blocks) - block < RING_SAMPLES / AAC_FRAME;
				const at = ((block * AAC_FRAME) % RING_SAMPLES) * 2;
				const sample = new AudioSample({
					data: kept ? ring.slice(at, at + AAC_FRAME * 2) : new Float32Array(AAC_FRAME * 2),
					format: 'f32',
					numberOfChannels: 2,
					sampleRate: SAMPLE_RATE,
					timestamp: (block * AAC_FRAME) / SAMPLE_RATE,
				});
				await source.add(sample);
				sample.close();
			}
		}
		this.#sendTracks(Atomics.load(control, Control.blocks));
		await output.finalize();
	}

	/** Sends the samples of isolated tracks up to a block; what was overwritten before it could be sent is missing. */
	#sendTracks(until: number): void {
		const { rings, indices } = this.#tracks;
		// They wait in their rings for a connection that comes back soon.
		if (!this.#isOpen) return;
		const now = Atomics.load(this.#memory.control, Control.blocks);
		for (; this.#trackBlock < until; this.#trackBlock++) {
			// One block more than is read may be written meanwhile.
			if (rings.length === 0 || now - this.#trackBlock >= TRACK_RING_SAMPLES / AAC_FRAME - 1) continue;
			const first = this.#trackBlock * AAC_FRAME;
			rings.forEach((sides, i) => {
				if (this.#socket.bufferedAmount > 2 * MAX_QUEUE_BYTES) return;
				const data = toPcm24(sides, first % TRACK_RING_SAMPLES, AAC_FRAME);
				const timeUs = Math.round((first * 1e6) / SAMPLE_RATE);
				this.#socket.send(encodeUplink({ kind: 'pcm', rendition: FIRST_TRACK + indices[i]!, timeUs, data }));
			});
		}
	}

	#sendSound(packet: EncodedPacket, metadata: EncodedAudioChunkMetadata | undefined): void {
		const description = metadata?.decoderConfig?.description as Uint8Array | undefined;
		if (description) {
			const about = { rendition: 0, sampleRate: SAMPLE_RATE, channels: 2, bitrateKbps: SOUND_KBPS };
			this.#audioConfig = encodeUplink({ kind: 'audioConfig', ...about, description: description.slice(0, 2) });
			if (this.#isOpen) this.#socket.send(this.#audioConfig);
		}
		const timeUs = Math.round(packet.timestamp * 1e6 - (ENCODER_DELAY_SAMPLES * 1e6) / SAMPLE_RATE);
		if (timeUs < 0 || !this.#isOpen || this.#socket.bufferedAmount > 2 * MAX_QUEUE_BYTES) return;
		this.#together.sound(encodeUplink({ kind: 'audio', rendition: 0, timeUs, key: true, data: packet.data }));
	}

	stop(): void {
		this.#stopping = true;
		void this.#finish();
	}

	/** Tells the server that the uplink has ended, once all frames and samples were sent, and closes. */
	async #finish(): Promise<void> {
		if (!this.#stopping || !this.#picturesDone) return;
		await this.#soundDone;
		if (this.#isOpen) {
			this.#together.flush();
			this.#socket.send(encodeUplink({ kind: 'end' }));
		}
		this.#socket.close();
		post({ type: 'ended' });
	}
}

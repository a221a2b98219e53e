/** Encodes a view for those who watch it from afar, and sends it: once, however many they are. */
import { encodeView } from '../../core/watch/packet.ts';
import { VIEW_CODEC, VIEWS, type View, type ViewForm } from '../../core/watch/views.ts';
import { ServerSocket } from '../server-socket.ts';

const KEY_EVERY_MS = 4000;
/** The server reads slower than this is made: pictures are left out. */
const MOST_WAITING_BYTES = 200_000;
/** A machine that cannot follow leaves pictures out. */
const MOST_IN_ENCODER = 4;

export class ViewEncoder {
	readonly form: ViewForm;
	readonly #socket: ServerSocket;
	readonly #encoder: VideoEncoder;
	readonly #every: number;
	/** When each picture within the encoder was made, by its time stamp. */
	readonly #madeAt = new Map<number, { at: number; order: number }>();
	#keyAt = 0;
	/** Number of the next picture that is due: a busy engine may be late with it. */
	#due = 0;

	/**
	 * @param url of the server's socket for it
	 * @param fps pace of the program
	 */
	constructor(view: View, url: string, fps: number) {
		this.form = VIEWS[view];
		const { fps: pace, width, height, kbps } = this.form;
		this.#every = Math.max(1, Math.round(fps / pace));
		this.#socket = new ServerSocket(url);
		// Somebody has begun to watch.
		this.#socket.onheard = () => (this.#keyAt = 0);
		this.#encoder = new VideoEncoder({
			output: (chunk, metadata) => this.#send(chunk, metadata),
			// Nobody watches then; the program goes on.
			error: () => this.#socket.close(),
		});
		this.#encoder.configure({
			codec: VIEW_CODEC,
			...{ width, height, framerate: pace, bitrate: kbps * 1000, latencyMode: 'realtime' },
			// Every other picture is needed by no other.
			scalabilityMode: 'L1T2',
		});
	}

	/** Whether it takes a picture with that number on the engine's clock, which is encoded then. */
	takes(number: number): boolean {
		const isOpen = this.#socket.readyState === ServerSocket.OPEN && this.#encoder.state === 'configured';
		const isFree = this.#encoder.encodeQueueSize < MOST_IN_ENCODER;
		const isDue = number >= this.#due && this.#socket.bufferedAmount < MOST_WAITING_BYTES;
		if (!isOpen || !isFree || !isDue) return false;
		const next = this.#due + this.#every;
		this.#due = next > number ? next : number + this.#every;
		return true;
	}

	/**
	 * Encodes a picture of its size, and closes it.
	 * @param at milliseconds since 1970, by the server's clock
	 * @param order of the scenes on a wall
	 */
	encode(frame: VideoFrame, at: number, order = 0): void {
		// While it was painted the last one who watched may have gone.
		if (this.#encoder.state !== 'configured') return frame.close();
		const keyFrame = at - this.#keyAt > KEY_EVERY_MS;
		if (keyFrame) this.#keyAt = at;
		this.#madeAt.set(frame.timestamp, { at, order });
		this.#encoder.encode(frame, { keyFrame });
		frame.close();
	}

	#send(chunk: EncodedVideoChunk, metadata: EncodedVideoChunkMetadata | undefined): void {
		const data = new Uint8Array(chunk.byteLength);
		chunk.copyTo(data);
		const made = this.#madeAt.get(chunk.timestamp) ?? { at: 0, order: 0 };
		this.#madeAt.delete(chunk.timestamp);
		if (this.#socket.readyState !== ServerSocket.OPEN) return;
		const canBeLeftOut = (metadata?.svc?.temporalLayerId ?? 0) > 0;
		this.#socket.send(encodeView({ key: chunk.type === 'key', canBeLeftOut, ...made, data }));
	}

	close(): void {
		this.#socket.close();
		if (this.#encoder.state !== 'closed') this.#encoder.close();
	}
}

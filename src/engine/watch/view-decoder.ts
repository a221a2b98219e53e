/** Decodes a view as it comes. */
import { decodeView } from '../../core/watch/packet.ts';
import { VIEW_CODEC } from '../../core/watch/views.ts';

/** A decoder that is behind by more pictures than this begins anew. */
const MOST_WAITING = 8;

/** False in a browser that cannot decode it. */
export function canWatch(): boolean {
	return typeof VideoDecoder === 'function';
}

/** @param order of the scenes on a wall; the frame is closed afterwards */
export type ShowFrame = (frame: VideoFrame, order: number) => void;

export class ViewDecoder {
	readonly #show: ShowFrame;
	#decoder: VideoDecoder | null = null;
	/** Of the pictures within the decoder, by their time stamps. */
	readonly #orders = new Map<number, number>();
	#isClosed = false;
	/** When the picture that was shown last was made, milliseconds since 1970 by the server's clock; null before the first. */
	shownAt: number | null = null;

	constructor(show: ShowFrame) {
		this.#show = show;
	}

	take(packet: ArrayBuffer): void {
		const read = decodeView(new Uint8Array(packet));
		if (!read || this.#isClosed) return;
		if (read.key && (this.#decoder === null || this.#decoder.decodeQueueSize > MOST_WAITING)) this.#begin();
		const decoder = this.#decoder;
		if (decoder?.state !== 'configured') return;
		const { key, at, order, data } = read;
		const timestamp = Math.round(at * 1000);
		this.#orders.set(timestamp, order);
		decoder.decode(new EncodedVideoChunk({ type: key ? 'key' : 'delta', timestamp, data }));
	}

	#begin(): void {
		if (this.#decoder?.state === 'configured') this.#decoder.close();
		this.#orders.clear();
		const decoder = new VideoDecoder({
			output: (frame) => {
				const order = this.#orders.get(frame.timestamp) ?? 0;
				this.#orders.delete(frame.timestamp);
				if (!this.#isClosed) this.#show(frame, order);
				this.shownAt = frame.timestamp / 1000;
				frame.close();
			},
			// The next one that stands alone begins anew.
			error: () => (this.#decoder = null),
		});
		decoder.configure({ codec: VIEW_CODEC, optimizeForLatency: true });
		this.#decoder = decoder;
	}

	close(): void {
		this.#isClosed = true;
		if (this.#decoder?.state === 'configured') this.#decoder.close();
	}
}

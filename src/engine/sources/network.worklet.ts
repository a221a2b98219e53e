/** Plays the sound of one camera in the network into the mix. */
import { SoundLine } from '../../core/ingest/sound-line.ts';
import type { SoundPiece } from './network-messages.ts';

class NetworkProcessor extends AudioWorkletProcessor {
	readonly #line = new SoundLine();
	#closed = false;

	constructor() {
		super();
		this.port.onmessage = ({ data }: MessageEvent<MessagePort | 'close'>) => {
			if (data === 'close') this.#closed = true;
			else
				data.onmessage = ({ data: piece }: MessageEvent<SoundPiece>) =>
					this.#line.push(piece.at, piece.left, piece.right);
		};
	}

	process(_: Float32Array[][], outputs: Float32Array[][]): boolean {
		const [left, right] = outputs[0]!;
		this.#line.play(left!, right!);
		return !this.#closed;
	}
}

registerProcessor('bivvo-network', NetworkProcessor);

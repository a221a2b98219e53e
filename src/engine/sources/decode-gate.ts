/**
 * Keeps decoders from working further ahead than they are needed. The library that reads files hands packets over by the
 * dozen; decoded at once they would take the machine from the program for a tenth of a second, and memory for as many
 * pictures. So in a clip's worker `VideoDecoder` is one that keeps packets until the gate lets them in.
 */

/** Packets that are inside the browser's decoder at a time. */
const INSIDE = 3;
/** What nobody waits for is decoded at this pace, milliseconds between two pictures. */
const PACE_MS = 20;

/** Which packets may be decoded now. */
export interface Gate {
	/** @param timestampMs of the packet, in its file */
	admits(timestampMs: number): boolean;
	/** True while there is no hurry. */
	isPaced(): boolean;
	/** True when nothing of it is needed any more. */
	isOver(): boolean;
}

/** The gate of decoders that are made from now on. */
let gate: Gate | null = null;
const waiting = new Set<() => void>();

/** Lets the gate stand before all decoders that are made from now on. */
export function useGate(next: Gate): void {
	gate = next;
}

/** To be called when more may be admitted than before, or nothing is needed any more. */
export function moveGate(): void {
	for (const feed of waiting) feed();
}

/** Puts gated decoders in place of the browser's, in a worker. */
export function installGate(scope: { VideoDecoder: typeof VideoDecoder }): void {
	scope.VideoDecoder = gated(scope.VideoDecoder);
}

/** @param Native the class that decodes */
export function gated(Native: typeof VideoDecoder): typeof VideoDecoder {
	return class extends Native {
		readonly #gate = gate;
		#held: EncodedVideoChunk[] = [];
		#fedAt = -Infinity;
		#timer: ReturnType<typeof setTimeout> | undefined;
		#drained: (() => void)[] = [];
		readonly #feed = () => this.#feedNow();

		constructor(init: VideoDecoderInit) {
			super(init);
			this.addEventListener('dequeue', this.#feed);
			waiting.add(this.#feed);
		}

		override decode(chunk: EncodedVideoChunk): void {
			this.#held.push(chunk);
			this.#feedNow();
		}

		override get decodeQueueSize(): number {
			return this.#held.length + super.decodeQueueSize;
		}

		override async flush(): Promise<void> {
			if (this.#held.length > 0) await new Promise<void>((resolve) => this.#drained.push(resolve));
			return super.flush();
		}

		override close(): void {
			this.#forget();
			super.close();
		}

		#feedNow(): void {
			if (this.#gate?.isOver()) return this.#forget();
			while (this.#held.length > 0 && super.decodeQueueSize < INSIDE) {
				const next = this.#held[0]!;
				if (this.#gate && !this.#gate.admits(next.timestamp / 1000)) return;
				const waitMs = this.#gate?.isPaced() ? this.#fedAt + PACE_MS - performance.now() : 0;
				if (waitMs > 0) {
					clearTimeout(this.#timer);
					this.#timer = setTimeout(this.#feed, waitMs);
					return;
				}
				this.#fedAt = performance.now();
				super.decode(this.#held.shift()!);
			}
			if (this.#held.length === 0) for (const resolve of this.#drained.splice(0)) resolve();
		}

		/** Nothing more of it is wanted. */
		#forget(): void {
			clearTimeout(this.#timer);
			this.#held = [];
			this.removeEventListener('dequeue', this.#feed);
			waiting.delete(this.#feed);
			for (const resolve of this.#drained.splice(0)) resolve();
		}
	};
}

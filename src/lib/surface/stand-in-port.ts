/** A cable between a page that draws a surface and one that uses it, in the same browser. */
import type { Port } from './ports.ts';

/** As it is known among surfaces. */
export const STAND_IN_NAME = 'Drawn surface';

interface Sent {
	from: 'desk' | 'surface';
	bytes: number[];
}

export class StandInPort implements Port {
	readonly name = STAND_IN_NAME;
	onMessage: (bytes: Uint8Array) => void = () => {};
	readonly #channel: BroadcastChannel;
	readonly #side: Sent['from'];

	/** @param side who sits at this end */
	constructor(eventId: string, side: Sent['from']) {
		this.#side = side;
		this.#channel = new BroadcastChannel(`bivvo-surface-${eventId}`);
		this.#channel.onmessage = ({ data }: MessageEvent<Sent>) => {
			if (data.from !== side) this.onMessage(Uint8Array.from(data.bytes));
		};
	}

	send(bytes: Uint8Array): void {
		this.#channel.postMessage({ from: this.#side, bytes: [...bytes] } satisfies Sent);
	}

	close(): void {
		this.#channel.close();
	}
}

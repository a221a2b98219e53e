/** Puts the pictures and sounds of one rendition into one line by time, as every container and host expects. */

export interface Timed {
	kind: 'video' | 'audio';
	timeUs: number;
}

/** Packets of one kind that wait at most; time that stands still moves nothing on. */
const MOST_WAITING = 2000;

/**
 * Holds each packet until the other kind has caught up, or until it has waited for `patienceUs` of its own kind:
 * a camera that stops must not stop the sound. Times of one kind never step back; those of both together only
 * when one kind comes later than that.
 */
export class Interleaver<P extends Timed> {
	#patienceUs: number;
	#waiting: { video: P[]; audio: P[] } = { video: [], audio: [] };
	#newest = { video: -Infinity, audio: -Infinity };

	/** @param patienceUs longest wait for the other kind, microseconds */
	constructor(patienceUs = 500_000) {
		this.#patienceUs = patienceUs;
	}

	/** Adds a packet, whose time must not be before earlier ones of its kind; returns those now due, in order. */
	push(packet: P): P[] {
		this.#newest[packet.kind] = packet.timeUs;
		this.#waiting[packet.kind].push(packet);
		if (this.#waiting[packet.kind].length > MOST_WAITING) return this.flush();
		const { video, audio } = this.#newest;
		return this.#release(Math.max(Math.min(video, audio), Math.max(video, audio) - this.#patienceUs));
	}

	/** All that still waits, in order. */
	flush(): P[] {
		return this.#release(Infinity);
	}

	#release(untilUs: number): P[] {
		const released: P[] = [];
		const { video, audio } = this.#waiting;
		for (;;) {
			const queue = (video[0]?.timeUs ?? Infinity) <= (audio[0]?.timeUs ?? Infinity) ? video : audio;
			if (queue.length === 0 || queue[0]!.timeUs > untilUs) return released;
			released.push(queue.shift()!);
		}
	}
}

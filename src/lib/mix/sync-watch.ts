/** Measures from time to time whether a camera's own sound and the same sound by another way are out of sync. */
import type { ShowState } from '../../core/show/state.ts';
import { AGREE_MS, comparable, judgeApart, type Apart, type Pair } from '../../core/sound/apart.ts';
import type { DelayEstimate } from '../../core/sound/delay-estimate.ts';
import type { Engine } from '../../engine/engine.ts';

/** Interval of measurements: two that agree are reported within 30 s. */
const MEASURE_EVERY_MS = 10_000;
/** Some looks of the estimate, overlapping. */
const LISTEN_S = 3;
/** Pairs that are compared at a time. */
const AT_ONCE = 3;

export class SyncWatch {
	#engine: Engine;
	#show: () => ShowState | null;
	/** By pair: milliseconds by which the camera's sound was behind the other's as they came in, at the last two measurements. */
	#looks = new Map<string, number[]>();
	#turn = 0;
	#busy = false;
	#timer: ReturnType<typeof setInterval>;

	constructor(engine: Engine, show: () => ShowState | null) {
		this.#engine = engine;
		this.#show = show;
		this.#timer = setInterval(() => void this.#measure(), MEASURE_EVERY_MS);
	}

	/** Pairs that are out of sync, by the last measurements and the delays set now. */
	get apart(): Apart[] {
		const show = this.#show();
		if (!show) return [];
		return comparable(show).flatMap(({ camera, other }) => {
			const [first, second] = this.#looks.get(`${camera.id} ${other.id}`) ?? [];
			if (first === undefined || second === undefined || Math.abs(first - second) > AGREE_MS) return [];
			return judgeApart(camera, other, second) ?? [];
		});
	}

	/** One camera in turn, with some of the others: what makes a machine busy is not worth more. */
	async #measure(): Promise<void> {
		const show = this.#show();
		const heard = (show ? comparable(show) : []).filter(({ camera, other }) =>
			[camera, other].every(({ id }) => this.#engine.inputOf(id) !== null),
		);
		if (heard.length === 0 || this.#busy || this.#engine.relief > 2) return;
		const turn = this.#turn++;
		const pairs = Array.from({ length: Math.min(AT_ONCE, heard.length) }, (_, i) => {
			return heard[(turn * AT_ONCE + i) % heard.length]!;
		});
		this.#busy = true;
		try {
			const { measureSounds } = await import('../../engine/lip-sync.ts');
			const found = await Promise.all(
				pairs.map(({ camera, other }) => measureSounds(this.#engine, other.id, camera.id, LISTEN_S)),
			);
			found.forEach((estimate, i) => this.#note(pairs[i]!, estimate));
		} catch {
			// One of them has just gone; there is another turn.
		} finally {
			this.#busy = false;
		}
	}

	/** A pause, or somebody else who speaks, says nothing new. */
	#note({ camera, other }: Pair, estimate: DelayEstimate): void {
		if ('refused' in estimate) return;
		const key = `${camera.id} ${other.id}`;
		this.#looks.set(key, [...(this.#looks.get(key) ?? []).slice(-1), estimate.delayMs]);
	}

	close(): void {
		clearInterval(this.#timer);
	}
}

/** Tells the server what this page sees and hears while it makes the program: what the line check goes by. */
import type { Look } from '../../core/line-check/facts.ts';
import type { ShowState } from '../../core/show/state.ts';
import type { Engine } from '../../engine/engine.ts';
import type { DeskSession } from './desk-session.svelte.ts';

const LOOK_EVERY_MS = 3000;

interface Observer {
	observe(source: 'cpu', options: { sampleInterval: number }): Promise<void>;
	disconnect(): void;
}
type MakeObserver = new (tell: (records: readonly { state: Look['pressure'] }[]) => void) => Observer;

/** How hard other programs press on this machine (Compute Pressure, W3C), where the browser tells. */
class Pressure {
	now: Look['pressure'] = null;
	#observer: Observer | null = null;

	constructor() {
		const { PressureObserver } = globalThis as { PressureObserver?: MakeObserver };
		if (!PressureObserver) return;
		this.#observer = new PressureObserver((records) => (this.now = records.at(-1)?.state ?? null));
		// Not allowed, or not known of this machine: then nothing is told.
		this.#observer.observe('cpu', { sampleInterval: LOOK_EVERY_MS }).catch(() => {});
	}

	close(): void {
		this.#observer?.disconnect();
	}
}

export class LookOut {
	readonly #session: DeskSession;
	readonly #engine: Engine;
	readonly #pressure = new Pressure();
	readonly #timer: ReturnType<typeof setInterval>;
	#inputs: string[] = [];
	/** The newest report of the engine. */
	load = 0;
	isRelieved = false;

	constructor(session: DeskSession, engine: Engine) {
		this.#session = session;
		this.#engine = engine;
		this.#timer = setInterval(() => this.look(), LOOK_EVERY_MS);
		const read = () => void this.#readInputs();
		navigator.mediaDevices?.addEventListener('devicechange', read);
		this.close = () => {
			clearInterval(this.#timer);
			navigator.mediaDevices?.removeEventListener('devicechange', read);
			this.#pressure.close();
		};
		read();
	}

	readonly close: () => void;

	async #readInputs(): Promise<void> {
		const devices = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
		this.#inputs = devices.flatMap(({ kind, label }) =>
			kind === 'audioinput' && label !== '' ? [label.slice(0, 200)] : [],
		);
	}

	/** Tells what is seen now. */
	look(): void {
		const { state } = this.#session.show;
		if (!state || !this.#session.isEngine) return;
		this.#session.show.post({ type: 'look', look: this.#seen(state) });
	}

	#seen(state: ShowState): Look {
		const { conditions, heard, machine } = this.#session;
		const integrated = heard?.mix.integrated ?? -Infinity;
		const judged = machine.judge(state);
		return {
			sources: state.setup.sources.flatMap(({ id }) => {
				const condition = conditions.get(id);
				if (!condition) return [];
				const { width, height, fault } = condition;
				const fps = this.#engine.frameRateOf(id);
				return [{ id, state: condition.state, fault: fault?.code ?? null, width, height, fps }];
			}),
			channels: (heard?.channels ?? []).map(({ id, holdDb, faults }) => ({ id, levelDb: Math.max(...holdDb), faults })),
			integrated: Number.isFinite(integrated) ? integrated : null,
			load: this.load,
			relieved: this.isRelieved,
			pressure: this.#pressure.now,
			inputs: this.#inputs,
			machine: judged &&
				machine.known && {
					at: machine.known.at,
					verdict: judged.verdict,
					outdated: machine.isOutdated(state, conditions),
				},
		};
	}
}

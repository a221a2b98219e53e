/** What a test has found out of this machine; kept here, since another machine is another matter. */
import * as v from 'valibot';
import { isHeavier, judgeMachine, machineSchema, type Judgement, type Machine } from '../../core/machine/machine.ts';
import { encodedPixels, eventWeight } from '../../core/machine/weight.ts';
import { mostOfGuests } from '../../core/show/guests/guest.ts';
import type { Picture, ShowState } from '../../core/show/state.ts';
import type { Engine } from '../../engine/engine.ts';
import { sizeOf, type SourceCondition } from '../../engine/sources/open-source.ts';
import { whileOthersRest } from './heavy-work.ts';

const KEPT = 'bivvo-machine';

export class TestedMachine {
	/** Null until it was tested. */
	known = $state.raw<Machine | null>(read());
	#running = $state.raw<AbortController | null>(null);
	/** Why the last test came to nothing. */
	problem = $state('');

	get isTesting(): boolean {
		return this.#running !== null;
	}

	/** Tests it with the show's own heaviest scenes. */
	async test(engine: Engine, show: ShowState): Promise<void> {
		this.cancel();
		const running = (this.#running = new AbortController());
		this.problem = '';
		try {
			const machine = await whileOthersRest(running.signal, () => engine.testMachine(show, running.signal));
			if (running.signal.aborted) return;
			this.known = machine;
			localStorage.setItem(KEPT, JSON.stringify(machine));
		} catch (error) {
			if (!running.signal.aborted) this.problem = (error as Error).message;
		} finally {
			if (this.#running === running) this.#running = null;
		}
	}

	cancel(): void {
		if (!this.#running) return;
		this.#running.abort();
		this.#running = null;
	}

	/** What becomes of a show in a picture; null while that is not known. */
	judge(show: ShowState, picture: Picture = show.setup.picture): Judgement | null {
		if (!this.known) return null;
		const sized = { ...show, setup: { ...show.setup, picture } };
		return judgeMachine(this.known, picture, encodedPixels(sized), mostOfGuests(sized));
	}

	/** True when the show has become heavier than what was tested. */
	isOutdated(show: ShowState, conditions: ReadonlyMap<string, SourceCondition>): boolean {
		if (!this.known) return false;
		const weight = eventWeight(show, (sourceId) => sizeOf(conditions.get(sourceId)));
		return isHeavier(weight, this.known);
	}
}

/** What was kept may be of another version, or anybody's. */
function read(): Machine | null {
	try {
		return v.parse(machineSchema, JSON.parse(localStorage.getItem(KEPT) ?? 'null'));
	} catch {
		return null;
	}
}

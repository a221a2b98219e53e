/** What the desk says to the crew, heard on this page. */
import { CrewEar } from '../../engine/guests/crew-ear.ts';
import type { ShowSession } from '../show/show-session.svelte.ts';

export class Hearing {
	readonly #session: ShowSession;
	#ear: CrewEar | null = null;
	/** True from the press that asks for it. */
	wanted = $state(false);
	sound = $state.raw<MediaStream | null>(null);

	constructor(session: ShowSession) {
		this.#session = session;
		session.show.onHear = (message) => {
			if (message.type === 'hearSignal') return this.#ear?.receive(message.connection, message.signal);
			if (!this.wanted || this.#ear) return;
			this.#ear = new CrewEar(message.iceServers, {
				send: (desk, connection, signal) => session.show.post({ type: 'hearSignal', desk, connection, signal }),
				hears: (sound) => (this.sound = sound),
				onProblem: () => {},
			});
			this.follow();
		};
	}

	/** Called from a press: browsers play nothing before. */
	set(wanted: boolean): void {
		this.wanted = wanted;
		if (wanted) return this.#session.show.post({ type: 'hear' });
		this.#ear?.close();
		this.#ear = null;
	}

	/** The page that makes the program may be another one. */
	follow(): void {
		this.#ear?.meet(this.#session.show.status?.engine ?? null);
	}

	close(): void {
		this.#session.show.onHear = () => {};
		this.set(false);
	}
}

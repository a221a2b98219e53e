/** A guest's own recording as their page shows it: made while the event is on air, sent when the line is free. */
import { forgetOwnFile, ownFiles } from '../../engine/guests/own-files.ts';
import { canRecord, OwnRecorder } from '../../engine/guests/own-recorder.ts';
import type { Resumable } from '../ui/resumable.ts';
import { saveFile } from '../ui/save.ts';
import { guest as words } from '../words/index.ts';

export type Sending = { is: 'sending' | 'waiting'; /** 0 to 1. */ part: number };

export class OwnRecording {
	readonly #url: string;
	readonly #folder: string;
	readonly #recorder: OwnRecorder;
	readonly isPossible = canRecord();
	/** What is being sent; while it runs nothing else is. */
	#sending: Resumable | null = null;
	#closed = false;

	/** True while there is something that the camera and the microphone of the guest are recorded beside. */
	isRecording = $state(false);
	/** Since when, milliseconds since 1970 by this machine. */
	since = $state(0);
	/** Why the recording has ended before the event. */
	problem = $state<'noRoom' | 'broken' | null>(null);
	sending = $state.raw<Sending | null>(null);
	/** What the server has said when it did not take it. */
	unsent = $state('');
	/** Files that wait for a line that is free. */
	waiting = $state(0);
	/** True when something was sent, and nothing is left. */
	isSent = $state(false);

	constructor(eventId: string, guestId: string) {
		this.#url = `/api/events/${eventId}/guest/${guestId}/recording`;
		this.#folder = `bivvo-own-${eventId}-${guestId}`;
		this.#recorder = new OwnRecorder(this.#folder, {
			failed: (isFull) => {
				this.problem = isFull ? 'noRoom' : 'broken';
				this.isRecording = false;
			},
			closed: () => void this.#send(),
		});
		void this.#send();
	}

	/**
	 * Records these tracks, if there is something to record them beside.
	 * @param broadcastId null for nothing
	 * @param now milliseconds since 1970 by the server's clock
	 */
	record(broadcastId: string | null, tracks: readonly MediaStreamTrack[], now: number): void {
		if (!this.isPossible || (broadcastId !== null && this.problem !== null)) return;
		const was = this.isRecording;
		this.#recorder.record(broadcastId, tracks, now);
		this.isRecording = this.#recorder.isRecording;
		if (this.isRecording === was) return;
		this.since = Date.now();
		// The line is theirs who are on air.
		if (this.isRecording) this.#sending?.stop(false);
		else void this.#send();
	}

	/** True while the page should stay open. */
	get isBusy(): boolean {
		return this.isRecording || this.sending !== null || this.#recorder.writing.size > 0;
	}

	/** Sends what there is, one after another. */
	async #send(): Promise<void> {
		if (this.#closed || this.#sending || !this.isPossible) return;
		const files = await ownFiles(this.#folder, this.#recorder.writing);
		this.waiting = files.length;
		const [first] = files;
		if (!first || this.isRecording || this.#sending || this.#closed) return;
		const { name, about, file } = first;
		const options = {
			endpoint: this.#url,
			metadata: { about: JSON.stringify(about) },
			fingerprint: () => Promise.resolve(`${this.#folder}/${name}`),
		};
		const on = {
			sent: (part: number) => (this.sending = { is: 'sending', part }),
			waits: () => (this.sending = { is: 'waiting', part: this.sending?.part ?? 0 }),
		};
		// What only sends is not waited for by who only comes.
		const loaded = await import('../ui/resumable.ts').catch(() => null);
		if (!loaded) {
			this.unsent = words.own.notReached;
			return;
		}
		if (this.isRecording || this.#sending || this.#closed) return;
		this.unsent = '';
		this.sending = { is: 'sending', part: 0 };
		const sending = (this.#sending = loaded.sendResumably(file, options, on, words.own.notReached));
		try {
			if ((await sending.done) === null) return;
			await forgetOwnFile(this.#folder, name);
			this.waiting--;
			this.isSent = true;
		} catch (error) {
			this.unsent = (error as Error).message;
		} finally {
			this.#sending = null;
			this.sending = null;
		}
		if (this.unsent === '') void this.#send();
	}

	tryAgain(): void {
		void this.#send();
	}

	/** Gives the files to the guest: what cannot be sent is not lost. */
	async save(): Promise<void> {
		const files = await ownFiles(this.#folder, this.#recorder.writing);
		for (const { name, file } of files) saveFile(name, file, file.type);
	}

	close(): void {
		this.#closed = true;
		this.#recorder.close();
		this.#sending?.stop(false);
	}
}

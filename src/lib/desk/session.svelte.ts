/* eslint-disable svelte/prefer-svelte-reactivity -- conditions are replaced whole, never changed in place */
/** What the desk works with: the live show, the engine when this page is it, and notices to the person. */
import { batchOf, type PageCommand, type SingleCommand } from '../../core/show/command.ts';
import type { SoundReport } from '../../core/show/messages.ts';
import type { Source } from '../../core/show/sources/source.ts';
import { dequal } from 'dequal';
import { isOnAir, isRehearsal, isSent, type Picture } from '../../core/show/state.ts';
import { Engine, type EngineEvents } from '../../engine/engine.ts';
import { askForShare } from '../../engine/sources/screen.ts';
import type { SourceCondition } from '../../engine/sources/open-source.ts';
import { EngineFailure, type EnginePart, type Trouble } from '../../engine/trouble.ts';
import { Ears } from '../mix/ears.svelte.ts';
import { Listening } from '../mix/listening.svelte.ts';
import { SyncWatch } from '../mix/sync-watch.ts';
import { LiveShow } from '../show/live-show.svelte.ts';
import { refusalWords } from '../words/refusals.ts';

const NOTICE_MS = 8000;

export interface Notice {
	id: number;
	text: string;
	undo: (() => void) | null;
}

export class DeskSession {
	readonly eventId: string;
	readonly rehearsalWatchUrl: string | null;
	readonly show: LiveShow;
	/** The headphones of this machine. */
	readonly ears: Ears;
	engine = $state.raw<Engine | null>(null);
	conditions = $state.raw<ReadonlyMap<string, SourceCondition>>(new Map());
	/** What stops the program, by the part that says so. */
	troubles = $state.raw<Partial<Record<EnginePart, Trouble>>>({});
	/** For how long viewers have seen nothing but black, milliseconds. */
	blackMs = $state(0);
	needsPress = $state(false);
	notices = $state.raw<Notice[]>([]);
	#listening = $state.raw<Listening | null>(null);
	#syncWatch: SyncWatch | null = null;
	/** The engine from its first moment on, and the picture that it was made for. */
	#made: { engine: Engine; picture: Picture } | null = null;
	#noticeCount = 0;

	/**
	 * @param makesProgram lets this page make the program whenever no other one does
	 * @param rehearsalWatchUrl where what a rehearsal sends is seen, before the destination's id; null where nobody can
	 * rehearse
	 */
	constructor(eventId: string, makesProgram: boolean, rehearsalWatchUrl: string | null = null) {
		this.rehearsalWatchUrl = rehearsalWatchUrl;
		this.eventId = eventId;
		this.show = new LiveShow(eventId, makesProgram, (reason) => this.notify(refusalWords(reason)));
		if (makesProgram) this.show.onChange = () => this.#keepEngine();
		this.ears = new Ears(
			() => this.engine,
			() => this.show.state?.setup.channels.map(({ id }) => id) ?? [],
			(reason) => this.notify(reason),
		);
	}

	/** True when this page makes the program. */
	get isEngine(): boolean {
		return this.show.status?.engine === this.show.client;
	}

	/** True when another page makes it. */
	get isWatching(): boolean {
		return this.show.status !== null && this.show.status.engine !== null && !this.isEngine;
	}

	/** What is heard: by the engine of this page, or told by that of another. */
	get heard(): SoundReport | null {
		return this.#listening?.report ?? this.show.sound;
	}

	/** Does a command. False when it cannot be done, which the person is told. */
	do(command: PageCommand): boolean {
		return this.show.send(command) !== null;
	}

	/** Does a command; the person is told so and can take it back. */
	doWithUndo(command: PageCommand, sentence: string): boolean {
		const inverse = this.show.send(command);
		if (inverse) this.notify(sentence, inverse.length > 0 ? () => this.takeBack(inverse) : null);
		return inverse !== null;
	}

	/** Takes a change back, all of it or nothing. */
	takeBack(inverse: readonly SingleCommand[]): void {
		if (inverse.length > 0) this.do(batchOf(inverse));
	}

	notify(text: string, undo: (() => void) | null = null): void {
		const id = this.#noticeCount++;
		this.notices = [...this.notices.filter((notice) => notice.text !== text), { id, text, undo }].slice(-3);
		setTimeout(() => this.dismiss(id), NOTICE_MS);
	}

	dismiss(id: number): void {
		this.notices = this.notices.filter((notice) => notice.id !== id);
	}

	/**
	 * Called with every change of show, connection and lease: asks to be the engine when nobody is, starts it,
	 * stops it when another page has taken over, and lets it follow the show.
	 */
	#keepEngine(): void {
		const { status, state, connected } = this.show;
		if (!state || !status) return;
		if (connected && status.engine === null) this.show.post({ type: 'wantEngine', takeOver: false });
		const same = JSON.stringify(this.#made?.picture) === JSON.stringify(state.setup.picture);
		if (this.#made && (this.isWatching || !same)) this.#stopEngine();
		if (this.isEngine && !this.#made) void this.#startEngine(state.setup.picture);
		this.#made?.engine.follow(state);
	}

	async #startEngine(picture: Picture): Promise<void> {
		const events: EngineEvents = {
			conditions: (conditions) => (this.conditions = new Map(conditions)),
			report: (report, blackMs) => {
				this.blackMs = blackMs;
				this.show.post({ type: 'report', report });
			},
			held: (isHeld) => (this.needsPress = isHeld),
			trouble: (part, trouble) => this.#setTrouble(part, trouble),
		};
		const uplinkUrl = `${location.origin.replace(/^http/, 'ws')}/uplink/${this.eventId}?client=${this.show.client}`;
		const options = { eventId: this.eventId, picture, uplinkUrl, history: this.show.loudnessHistory };
		const engine = new Engine(options, events);
		const made = (this.#made = { engine, picture });
		try {
			await engine.start();
			if (this.#made !== made) return;
			this.engine = engine;
			const syncWatch = (this.#syncWatch = new SyncWatch(engine, () => this.show.state));
			this.#listening = new Listening(
				engine,
				() => this.show.state,
				() => ({ apart: syncWatch.apart, echo: [...this.ears.heardBy] }),
				{
					report: (sound) => this.show.post({ type: 'sound', sound }),
					loudness: (broadcastId, history) => this.show.post({ type: 'loudness', loudness: { broadcastId, history } }),
				},
			);
		} catch (error) {
			if (this.#made !== made) return;
			void engine.close();
			const failed = { code: 'failed' as const, about: { problem: (error as Error).message } };
			this.#setTrouble('engine', error instanceof EngineFailure ? error.trouble : failed);
		}
	}

	#setTrouble(part: EnginePart, trouble: Trouble | null): void {
		if (!dequal(this.troubles[part] ?? null, trouble))
			this.troubles = { ...this.troubles, [part]: trouble ?? undefined };
	}

	#stopEngine(): void {
		this.troubles = {};
		this.blackMs = 0;
		this.needsPress = false;
		this.#listening?.close();
		this.#syncWatch?.close();
		this.#listening = null;
		this.ears.forget();
		void this.#made?.engine.close();
		this.#made = this.engine = null;
		this.conditions = new Map();
	}

	/** After a press anywhere: browsers hold sound back until then. */
	async wake(): Promise<void> {
		await this.engine?.wake();
	}

	takeOver(): void {
		this.show.post({ type: 'wantEngine', takeOver: true });
	}

	/**
	 * Asks the person to share a screen for a source and gives it to the engine.
	 * @throws with a sentence when that is not possible here, or they do not
	 */
	async share(sourceId: string): Promise<void> {
		const { engine } = this;
		if (!engine) throw new Error('Share from the tab that makes the program.');
		engine.offerShare(sourceId, await askForShare());
	}

	/** Puts a scene in Next, or takes it at once when that is the way of working or was asked for. */
	choose(sceneId: string, atOnce: boolean): void {
		const state = this.show.state;
		if (!state) return;
		if (atOnce || state.setup.direct) this.do({ type: 'take', sceneId });
		else this.do({ type: 'setNext', sceneId });
	}

	/** Removes a source and offers to bring it back with all that went with it. */
	removeSource({ id: sourceId, name }: Source): void {
		this.doWithUndo({ type: 'removeSource', sourceId }, `${name} was removed.`);
	}

	/** True while viewers get the program. */
	get sent(): boolean {
		return this.show.state !== null && isSent(this.show.state);
	}

	/** True between start and end of a rehearsal. */
	get rehearsing(): boolean {
		return this.show.state !== null && isRehearsal(this.show.state);
	}

	/** What is under way, in a word. */
	get underWay(): 'rehearsal' | 'broadcast' | 'recording' {
		return this.rehearsing ? 'rehearsal' : this.sent ? 'broadcast' : 'recording';
	}

	/** How the program's picture is marked. */
	get programMark(): 'onAir' | 'rehearsal' | 'program' {
		return this.rehearsing ? 'rehearsal' : this.sent ? 'onAir' : 'program';
	}

	/** True while the program is sent or only recorded. */
	get onAir(): boolean {
		return this.show.state !== null && isOnAir(this.show.state);
	}

	close(): void {
		this.#stopEngine();
		this.show.close();
	}
}

/** A new id for something a person makes. */
export function newId(): string {
	return crypto.randomUUID().slice(0, 13);
}

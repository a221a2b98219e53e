/** What every page of an event works with: the live show, changes with their way back, and notices to the person. */
import { batchOf, type PageCommand, type SingleCommand } from '../../core/show/command.ts';
import type { SoundReport } from '../../core/show/messages.ts';
import type { Source } from '../../core/show/sources/source.ts';
import { isOnAir, isRehearsal, isSent, type ShowState } from '../../core/show/state.ts';
import type { Engine } from '../../engine/engine.ts';
import { refusalWords, sources as words } from '../words/index.ts';
import { Levels } from './levels.ts';
import { LiveShow } from './live-show.svelte.ts';
import { tellStation } from './station.ts';

const NOTICE_MS = 8000;
const MOST_NOTICES = 3;

export interface Notice {
	id: number;
	text: string;
	undo: (() => void) | null;
}

export class ShowSession {
	readonly eventId: string;
	readonly show: LiveShow;
	/** Levels as they move, where this page makes the program; elsewhere `heard` brings them a few times a second. */
	readonly levels = new Levels();
	notices = $state.raw<Notice[]>([]);
	#noticeCount = 0;
	readonly #leaveStation: () => void;

	/** @param makesProgram lets this page make the program whenever no other one does */
	constructor(eventId: string, makesProgram = false) {
		this.eventId = eventId;
		this.show = new LiveShow(eventId, makesProgram, (reason) => this.notify(refusalWords(reason)));
		this.#leaveStation = tellStation(this.show);
	}

	/**
	 * The show as this page knows it. For components that are mounted once it is known.
	 * @throws before the hub's first answer
	 */
	get state(): ShowState {
		const { state } = this.show;
		if (state === null) throw new Error('The show is not known yet.');
		return state;
	}

	/** The engine of this page; null on a page that makes no program. */
	get engine(): Engine | null {
		return null;
	}

	/** True when this page makes the program. */
	get isEngine(): boolean {
		return this.show.makesProgram;
	}

	/** True when another page makes it. */
	get isWatching(): boolean {
		return this.show.status !== null && this.show.status.engine !== null && !this.isEngine;
	}

	/** Levels, loudness and faults of the sound, as the page reports them that makes the program. */
	get heard(): SoundReport | null {
		return this.show.sound;
	}

	/** Does a command. False when it cannot be done, which the person is told. */
	do(command: PageCommand): boolean {
		return this.show.send(command) !== null;
	}

	/** Does a command; the person is told so and can take it back. */
	doWithUndo(command: PageCommand, sentence: string): boolean {
		const inverse = this.show.send(command);
		if (inverse) this.notify(sentence, inverse.length > 0 ? () => this.undo(inverse) : null);
		return inverse !== null;
	}

	/** Takes a change back, all of it or nothing. */
	undo(inverse: readonly SingleCommand[]): void {
		if (inverse.length > 0) this.do(batchOf(inverse));
	}

	/** Puts a scene in Next, or takes it at once when that is the way of working or was asked for. */
	choose(sceneId: string, atOnce: boolean): void {
		if (atOnce || this.state.setup.direct) this.do({ type: 'take', sceneId });
		else this.do({ type: 'setNext', sceneId });
	}

	/** Removes a source and offers to bring it back with all that went with it. */
	removeSource({ id: sourceId, name }: Source): void {
		this.doWithUndo({ type: 'removeSource', sourceId }, words.removed(name));
	}

	/** Shows a sentence for some seconds, with a way back where there is one. */
	notify(text: string, undo: (() => void) | null = null): void {
		const id = this.#noticeCount++;
		const others = this.notices.filter((notice) => notice.text !== text);
		this.notices = [...others, { id, text, undo }].slice(-MOST_NOTICES);
		setTimeout(() => this.dismiss(id), NOTICE_MS);
	}

	dismiss(id: number): void {
		this.notices = this.notices.filter((notice) => notice.id !== id);
	}

	/** True while the program is sent or only recorded. */
	get isOnAir(): boolean {
		return this.show.state !== null && isOnAir(this.show.state);
	}

	/** True while the program is sent to destinations, or in a rehearsal to their stand-ins. */
	get isSent(): boolean {
		return this.show.state !== null && isSent(this.show.state);
	}

	/** True between start and end of a rehearsal. */
	get isRehearsing(): boolean {
		return this.show.state !== null && isRehearsal(this.show.state);
	}

	close(): void {
		this.#leaveStation();
		this.show.close();
	}
}

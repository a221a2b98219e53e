/* eslint-disable svelte/prefer-svelte-reactivity -- conditions are replaced whole, never changed in place */
/** What the desk works with: a session of the show, the engine when this page is it, and the headphones. */
import { dequal } from 'dequal';
import { addingClip } from '../../core/media/adding.ts';
import type { Media } from '../../core/media/media.ts';
import { batchOf, type PageCommand } from '../../core/show/command.ts';
import type { SoundReport } from '../../core/show/messages.ts';
import { plainChannel } from '../../core/show/mix/mix.ts';
import type { PrivacyPatch } from '../../core/show/overlays/overlay.ts';
import { plainScene, wholeLayer } from '../../core/show/scenes/scene.ts';
import { addingSource } from '../../core/show/sources/adding.ts';
import { kindOf, plainSource, type Origin } from '../../core/show/sources/source.ts';
import type { Picture } from '../../core/show/state.ts';
import { Engine, type EngineEvents } from '../../engine/engine.ts';
import { sourceFault } from '../../engine/sources/fault.ts';
import type { SourceCondition } from '../../engine/sources/open-source.ts';
import { askForShare } from '../../engine/sources/screen.ts';
import { troubleOf, type EnginePart, type Trouble } from '../../engine/trouble.ts';
import { TestedMachine } from '../machine/tested-machine.svelte.ts';
import { Ears } from '../mix/ears.svelte.ts';
import { Listening } from '../mix/listening.svelte.ts';
import { SyncWatch } from '../mix/sync-watch.ts';
import { newId } from '../show/new-id.ts';
import { ShowSession } from '../show/show-session.svelte.ts';
import { Steps } from '../show/steps.svelte.ts';
import { storeStill } from '../sources/still/store.ts';
import { sources as words } from '../words/index.ts';
import { problemWords } from '../words/problem.ts';
import { SideSheet } from './side-sheet.svelte.ts';

/** Where this machine keeps what stands at the left. */
const LEFT = 'bivvo-left';

type Making = 'asDesk' | 'untilDesk' | 'never';

export class DeskSession extends ShowSession {
	/** False where the server cannot receive rehearsals. */
	readonly canRehearse: boolean;
	/** Whether this page makes the program: as a desk, until a desk is opened, or not at all. */
	readonly #makes: Making;
	/** The headphones of this machine. */
	readonly ears: Ears;
	/** What this machine can do. */
	readonly machine = new TestedMachine();
	readonly sheet = new SideSheet(this);
	/** What stands at the left of the desk; kept on this machine. */
	left = $state<'runSheet' | 'setUp'>(localStorage.getItem(LEFT) === 'setUp' ? 'setUp' : 'runSheet');
	/** Changes of the run sheet, to be taken back. */
	readonly sheetSteps = new Steps();
	/** True while somebody chooses a source to be added. */
	adding = $state(false);
	/** Of each source, as the engine sees it. */
	conditions = $state.raw<ReadonlyMap<string, SourceCondition>>(new Map());
	/** What stops the program, by the part that reports it. */
	troubles = $state.raw<Partial<Record<EnginePart, Trouble>>>({});
	/** For how long viewers have seen nothing but black, milliseconds. */
	blackMs = $state(0);
	/** True while the browser plays nothing until something on the page is pressed. */
	needsPress = $state(false);
	#engine = $state.raw<Engine | null>(null);
	#listening = $state.raw<Listening | null>(null);
	#syncWatch: SyncWatch | null = null;
	/** The engine from its first moment on, and the picture that it was made for. */
	#started: { engine: Engine; picture: Picture } | null = null;

	constructor(eventId: string, canRehearse: boolean, makes: Making = 'asDesk') {
		super(eventId, makes === 'asDesk');
		this.canRehearse = canRehearse;
		this.#makes = makes;
		this.show.onChange = () => this.#keepEngine();
		this.ears = new Ears(
			() => this.engine,
			() => this.show.state?.setup.channels.map(({ id }) => id) ?? [],
			(reason) => this.notify(reason),
		);
	}

	/** Shows the run sheet at the left, or sources and destinations. */
	showLeft(left: 'runSheet' | 'setUp'): void {
		this.left = left;
		localStorage.setItem(LEFT, left);
	}

	/**
	 * Changes the run sheet, in a way that can be taken back. False when it cannot be done, which the person is told.
	 * @param sentence told when it is done, with the way back
	 */
	changeSheet(command: PageCommand, sentence = ''): boolean {
		const inverse = this.show.send(command);
		if (!inverse) return false;
		this.sheetSteps.remember(inverse, command.type, true);
		if (sentence !== '')
			this.notify(sentence, () => {
				this.sheetSteps.forget(inverse);
				this.undo(inverse);
			});
		return true;
	}

	/** Adds a source, with a scene that shows it and a channel for what is only heard. */
	addSource(name: string, origin: Origin, id = newId(), patches: PrivacyPatch[] = []): void {
		const source = plainSource(id, name, origin);
		const { brings } = kindOf(source);
		const scenes = brings.picture ? [plainScene(`${id}-scene`, name, [wholeLayer(`${id}-layer`, id)])] : [];
		const channels = brings.sound === 'always' ? [plainChannel(`${id}-channel`, id, name)] : [];
		this.doWithUndo(addingSource(this.state, source, { scenes, channels, patches }), words.added(name));
	}

	/** Brings files of the library into the event: clips as one clip or reel, each still as a source of its own. */
	async addMedia(name: string, files: readonly Media[]): Promise<void> {
		const clips = files.filter(({ about }) => about.kind !== 'still');
		if (clips.length > 0) this.doWithUndo(batchOf(addingClip(newId(), name, clips)), words.added(name));
		for (const { id, name: stillName, about } of files.filter((each) => !clips.includes(each)))
			try {
				const blob = await (await fetch(`/api/media/${id}/file`)).blob();
				const stored = await storeStill(this.eventId, new File([blob], stillName, { type: about.picture?.codec }));
				this.addSource(stillName, stored.origin);
			} catch (error) {
				this.notify(problemWords(error, stillName));
			}
	}

	undoSheet(): void {
		this.undo(this.sheetSteps.back());
	}

	/** True on the desk, which makes the program whenever no other one does. */
	get isDesk(): boolean {
		return this.#makes === 'asDesk';
	}

	override get engine(): Engine | null {
		return this.#engine;
	}

	override get heard(): SoundReport | null {
		return this.#listening?.report ?? super.heard;
	}

	/** What is under way, in a word. */
	get underWay(): 'rehearsal' | 'broadcast' | 'recording' {
		return this.isRehearsing ? 'rehearsal' : this.isSent ? 'broadcast' : 'recording';
	}

	/** How the program's picture is marked. */
	get programMark(): 'onAir' | 'rehearsal' | 'program' {
		return this.isRehearsing ? 'rehearsal' : this.isSent ? 'onAir' : 'program';
	}

	/** Call after a press anywhere: browsers hold sound back until then. */
	async wake(): Promise<void> {
		await this.engine?.wake();
	}

	/** Makes the program here instead of in the page that makes it now. */
	takeOver(): void {
		this.show.post({ type: 'wantEngine', takeOver: true });
	}

	/**
	 * Asks the person to share a screen for a source and gives it to the engine.
	 * @throws a fault when that is not possible here, or they decline
	 */
	async share(sourceId: string): Promise<void> {
		const { engine } = this;
		if (!engine) throw sourceFault('shareElsewhere', {});
		engine.offerShare(sourceId, await askForShare());
	}

	override close(): void {
		this.#stopEngine();
		super.close();
	}

	/**
	 * Called with every change of show, connection and lease: asks to be the engine when nobody is, starts it,
	 * stops it when another page has taken over, and lets it follow the show.
	 */
	#keepEngine(): void {
		const { status, state, connected } = this.show;
		if (!state || !status) return;
		if (connected && status.engine === null && this.#makes !== 'never')
			this.show.post({ type: 'wantEngine', takeOver: false, yields: this.#makes === 'untilDesk' });
		const isSamePicture = dequal(this.#started?.picture, state.setup.picture);
		// Viewers need all of the machine.
		if (this.isOnAir) this.machine.cancel();
		if (this.#started && (this.isWatching || !isSamePicture)) this.#stopEngine();
		if (this.isEngine && !this.#started) void this.#startEngine(state.setup.picture);
		this.#started?.engine.setClock(this.show.clockOffsetMs);
		this.#started?.engine.follow(state);
	}

	async #startEngine(picture: Picture): Promise<void> {
		const events: EngineEvents = {
			conditions: (conditions) => (this.conditions = new Map(conditions)),
			report: (report, blackMs) => {
				this.blackMs = blackMs;
				this.show.post({ type: 'report', report });
			},
			fell: (dueId) => this.show.fell(dueId),
			refreshes: () => this.#listening?.refresh(),
			held: (isHeld) => (this.needsPress = isHeld),
			trouble: (part, trouble) => this.#setTrouble(part, trouble),
		};
		const uplinkUrl = `${location.origin.replace(/^http/, 'ws')}/uplink/${this.eventId}?lease=${this.show.lease}`;
		const hardware = () => this.machine.known?.hardware ?? 'untested';
		const options = { eventId: this.eventId, picture, uplinkUrl, hardware, history: this.show.loudnessHistory };
		const engine = new Engine(options, events);
		const started = (this.#started = { engine, picture });
		try {
			await engine.start();
			if (this.#started === started) this.#listenTo(engine);
		} catch (error) {
			if (this.#started !== started) return;
			void engine.close();
			this.#setTrouble('engine', troubleOf(error));
		}
	}

	#listenTo(engine: Engine): void {
		this.#engine = engine;
		const syncWatch = (this.#syncWatch = new SyncWatch(engine, () => this.show.state));
		this.#listening = new Listening(
			engine,
			() => this.show.state,
			this.levels,
			() => ({ apart: syncWatch.apart, echo: [...this.ears.heardBy] }),
			{
				report: (sound) => this.show.post({ type: 'sound', sound }),
				loudness: (broadcastId, history) => this.show.post({ type: 'loudness', loudness: { broadcastId, history } }),
			},
		);
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
		this.machine.cancel();
		void this.#started?.engine.close();
		this.#started = this.#engine = null;
		this.conditions = new Map();
	}
}

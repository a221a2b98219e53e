/* eslint-disable svelte/prefer-svelte-reactivity -- conditions are replaced whole, never changed in place */
/** What the desk works with: a session of the show, the engine when this page is it, and the headphones. */
import { dequal } from 'dequal';
import type { GuestPresence } from '../../core/guests/messages.ts';
import { addingClip } from '../../core/media/adding.ts';
import type { Media } from '../../core/media/media.ts';
import { batchOf, type PageCommand } from '../../core/show/command.ts';
import { addingGathering, addingSeat } from '../../core/show/guests/adding.ts';
import type { SoundReport } from '../../core/show/messages.ts';
import { plainChannel } from '../../core/show/mix/mix.ts';
import type { PrivacyPatch } from '../../core/show/overlays/overlay.ts';
import { plainScene, wholeLayer } from '../../core/show/scenes/scene.ts';
import { addingSource } from '../../core/show/sources/adding.ts';
import { kindOf, plainSource, type Origin } from '../../core/show/sources/source.ts';
import type { Picture } from '../../core/show/state.ts';
import { Engine, type EngineEvents } from '../../engine/engine.ts';
import type { GuestMedia } from '../../engine/guests/media.ts';
import type { TalkTo } from '../../engine/guests/returns.ts';
import type { ViewUrls } from '../../engine/messages.ts';
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
import { WatchedViews } from '../show/watched-views.ts';
import { storeStill } from '../sources/still/store.ts';
import { sources as words } from '../words/index.ts';
import { problemWords } from '../words/problem.ts';
import { LookOut } from './look-out.ts';
import { SideSheet } from './side-sheet.svelte.ts';

/** Where this machine keeps what stands at the left. */
const LEFT = 'bivvo-left';
const LEFTS = ['runSheet', 'setUp', 'guests'] as const;
type Left = (typeof LEFTS)[number];

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
	/** What another page makes, while this one only watches. */
	readonly views = new WatchedViews((view) => `${this.#socketUrl('watch')}&view=${view}`);
	/** What stands at the left of the desk; kept on this machine. */
	left = $state<Left>(LEFTS.find((left) => left === localStorage.getItem(LEFT)) ?? 'runSheet');
	/** Changes of the run sheet, to be taken back. */
	readonly sheetSteps = new Steps();
	/** True while somebody chooses a source to be added. */
	adding = $state(false);
	/** Of each source, as the engine sees it. */
	conditions = $state.raw<ReadonlyMap<string, SourceCondition>>(new Map());
	/** What stops the program, by the part that reports it. */
	troubles = $state.raw<Partial<Record<EnginePart, Trouble>>>({});
	/** What comes from guests, by guest; with this page as the engine. */
	guestMedia = $state.raw<ReadonlyMap<string, GuestMedia>>(new Map());
	/** For how long viewers have seen nothing but black, milliseconds. */
	blackMs = $state(0);
	/** True while the browser plays nothing until something on the page is pressed. */
	needsPress = $state(false);
	#engine = $state.raw<Engine | null>(null);
	#listening = $state.raw<Listening | null>(null);
	/** To whom the crew speaks now, off air. */
	talksTo = $state.raw<TalkTo>(null);
	/** What the engine was told last of guests. */
	#heardOf: readonly GuestPresence[] = [];
	#syncWatch: SyncWatch | null = null;
	#lookOut: LookOut | null = null;
	/** The engine from its first moment on, and the picture that it was made for. */
	#started: { engine: Engine; picture: Picture } | null = null;

	constructor(eventId: string, canRehearse: boolean, makes: Making = 'asDesk') {
		super(eventId, makes === 'asDesk');
		this.canRehearse = canRehearse;
		this.#makes = makes;
		this.show.onChange = () => this.#keepEngine();
		this.show.onGuestSignal = ({ guestId, connection, signal, iceServers }) =>
			this.#started?.engine.receiveGuest(guestId, connection, signal, iceServers);
		this.ears = new Ears(
			() => this.engine,
			() => this.show.state?.setup.channels.map(({ id }) => id) ?? [],
			(reason) => this.notify(reason),
		);
	}

	/** Shows the run sheet at the left, sources and destinations, or guests. */
	showLeft(left: Left): void {
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
		const isHeard = brings.sound === 'always' || ('withSound' in source && source.withSound);
		const channels = isHeard ? [plainChannel(`${id}-channel`, id, name)] : [];
		this.doWithUndo(addingSource(this.state, source, { scenes, channels, patches }), words.added(name));
	}

	/** Adds a seat for a guest, with all that belongs to it. */
	addSeat(name: string, shows: 'camera' | 'screen'): void {
		this.doWithUndo(addingSeat(this.state, newId(), name, shows), words.added(name));
	}

	/** Adds a scene of as many guests as are there. */
	addGathering(name: string): void {
		this.doWithUndo(addingGathering(this.state, newId(), name), words.added(name));
	}

	/** Adds a phone as a camera: the seat of whoever opens a link. */
	addPhone(name: string, linkId: string): void {
		this.doWithUndo(addingSeat(this.state, newId(), name, 'camera', linkId), words.added(name));
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
		const urls = this.show.lease ? status.watched.map((view) => [view, `${this.#socketUrl('view')}&view=${view}`]) : [];
		this.#started?.engine.beWatched(Object.fromEntries(urls) as ViewUrls);
		if (this.show.guests === this.#heardOf) return;
		this.#heardOf = this.show.guests;
		this.#started?.engine.followAboutGuests(new Map(this.#heardOf.map((guest) => [guest.id, guest])));
	}

	#readGuests(): void {
		const engine = this.#started?.engine;
		const guests = this.show.state?.live.guests ?? [];
		if (!engine) return;
		const media = new Map(guests.map(({ id }) => [id, engine.guestMedia(id)]));
		if (!dequal(namesOf(media), namesOf(this.guestMedia))) this.guestMedia = media;
	}

	/** Lets the crew's microphone be heard by guests, off air, until it is called with null. */
	async talk(to: TalkTo): Promise<void> {
		try {
			await this.engine?.talk(to);
			this.talksTo = this.engine ? to : null;
		} catch (error) {
			this.notify(problemWords(error));
		}
	}

	/** Of a socket for what the engine makes. */
	#socketUrl(kind: 'uplink' | 'view' | 'watch' | 'camera'): string {
		return `${location.origin.replace(/^http/, 'ws')}/${kind}/${this.eventId}?lease=${this.show.lease}`;
	}

	async #startEngine(picture: Picture): Promise<void> {
		const events: EngineEvents = {
			conditions: (conditions) => (this.conditions = new Map(conditions)),
			report: (report, blackMs) => {
				this.blackMs = blackMs;
				this.show.post({ type: 'report', report });
				if (!this.#lookOut) return;
				this.#lookOut.load = (report.frameMs * picture.fps) / 1000;
				this.#lookOut.isRelieved = report.relief > 0;
			},
			fell: (dueId) => this.show.fell(dueId),
			guestSignal: (guestId, connection, signal) =>
				this.show.post({ type: 'guestSignal', guestId, connection, signal }),
			guests: () => this.#readGuests(),
			refreshes: () => this.#listening?.refresh(),
			held: (isHeld) => (this.needsPress = isHeld),
			trouble: (part, trouble) => this.#setTrouble(part, trouble),
		};
		const uplinkUrl = this.#socketUrl('uplink');
		const hardware = () => this.machine.known?.hardware ?? 'untested';
		const cameraUrl = (cameraId: string) => `${this.#socketUrl('camera')}&camera=${cameraId}`;
		const history = this.show.loudnessHistory;
		const options = { eventId: this.eventId, picture, uplinkUrl, cameraUrl, hardware, history };
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
		this.#lookOut = new LookOut(this, engine);
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
		this.#lookOut?.close();
		this.#lookOut = null;
		this.#listening = null;
		this.ears.forget();
		this.machine.cancel();
		void this.#started?.engine.close();
		this.#started = this.#engine = null;
		this.conditions = new Map();
		this.guestMedia = new Map();
		this.#heardOf = [];
		this.talksTo = null;
	}
}

/** Tells tracks apart by their names. */
function namesOf(media: ReadonlyMap<string, GuestMedia>): unknown {
	return [...media].map(([id, { voice, camera, screen }]) => [id, voice?.id, camera?.id, screen?.id]);
}

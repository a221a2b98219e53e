/**
 * One broadcast: takes the engine's packets, puts them on one line of time, and hands them to all who want them. While
 * nothing comes from the engine it goes on by itself with the holding card and silence, and nobody is thrown out.
 */
import { ProtocolError } from '../../core/delivery/bytes.ts';
import { HoldingLine, isPlayable, type Loop, type LoopPicture } from '../../core/delivery/holding.ts';
import type { Rendition } from '../../core/delivery/rates.ts';
import { Timeline } from '../../core/delivery/timeline.ts';
import {
	FIRST_TRACK,
	type AudioConfig,
	type Downlink,
	type HoldPacket,
	type MediaPacket,
	type UplinkPacket,
} from '../../core/delivery/uplink.ts';
import { log } from '../log.ts';
import type { PublishOrder } from './connection.ts';
import type { Handover } from './handovers.ts';
import type { Publisher } from './publisher.ts';
import { Recording } from './recording.ts';
import { Stream } from './stream.ts';
import { Tracks, type TrackOrder } from './tracks.ts';

/** The engine sends a packet every few hundredths of a second; silence longer than this means it is gone. */
const SILENT_MS = 1000;
const HOLD_AFTER_MS = 500;
/** Interval of checking whether the engine is silent, and of sending the holding card's next frames, milliseconds. */
const CHECK_MS = 50;
/** A key frame is asked for so often at most. */
const ASK_KEY_MS = 500;
/** What a desk introduces comes in one flock. */
const SETTLED_MS = 300;
/** Sounds that wait for a key frame: some eight seconds. */
const MOST_EARLY = 400;
/** Pictures of a loop: two seconds at the fastest pace there is, and some. */
const MOST_IN_LOOP = 200;
/** Time for the engine's last packets to arrive when a broadcast ends. */
const LAST_PACKETS_MS = 3000;

export interface BroadcastPlan {
	id: string;
	/** By rendition, with the destinations that it goes to. */
	renditions: (Pick<Rendition, 'kbps'> & { orders: PublishOrder[] })[];
	/** Path of the program's file; null when it is not recorded. */
	recordingFile: string | null;
	/** What is recorded beside it. */
	tracks: readonly TrackOrder[];
	/** What another node has left of this broadcast, which it goes on with; null for one that begins. */
	handover?: Handover | null;
	/** Called with what another node would go on with, when that is known, and when it has changed. */
	introduced?: (handover: Handover) => void;
	/** How long viewers may be held before the broadcast ends by itself, milliseconds. */
	holdMs: number;
	/** Called when the state of a destination or of the recording changes, and when holding begins or ends. */
	changed: () => void;
	/** Called once when viewers were held for `holdMs`. */
	heldTooLong: () => void;
}

interface Holding {
	line: HoldingLine;
	/** Milliseconds since 1970, and the time on the line that belongs to it. */
	since: number;
	fromUs: number;
}

/** A packet's time is that of now: an engine may catch up after a moment, and its clock is not quite the server's. */
const MOST_AHEAD_US = 20e6;
const MOST_BEHIND_US = 600e6;

/** The time on the line that it is now while viewers are held. */
function lineOf({ since, fromUs }: Holding, now: number): number {
	return fromUs + (now - since) * 1000;
}

export class Broadcast {
	readonly id: string;
	#plan: BroadcastPlan;
	#streams: Stream[];
	#recording: Recording | null;
	readonly tracks: Tracks;
	#audio: AudioConfig | null = null;
	#timeline = new Timeline();
	/** Newest times sent, on the line. */
	#sentUs = { video: 0, audio: 0 };
	#loops = new Map<number, LoopPicture[]>();
	#holding: Holding | null = null;
	/** Sounds that came before the key frame that they belong behind: pictures take longer to be encoded. */
	#early: MediaPacket[] = [];
	/** Where the engine's clock began on the line, by a clock that nobody sets. */
	#anchored = { atMs: 0, onLineUs: 0 };
	#session = '';
	#down: (message: Downlink) => void = () => {};
	#askedKeyAt = 0;
	/** Somebody has begun to take packets, and no key frame was asked for since. */
	#wantsKey = false;
	#firstPacketAt = 0;
	#lastPacketAt = 0;
	/** When something came last that had its place on the line. */
	#placedAt = 0;
	/** How long nothing of that kind has come, as far as this process was awake to see it. */
	#silentMs = 0;
	#checkedAt = Date.now();
	/** When something was introduced last that nobody else has been told of; 0 for nothing. */
	#introducedAt = 0;
	#engineDone: (() => void) | null = null;
	#ending: Promise<void> | null = null;
	#isCut = false;
	#timer: NodeJS.Timeout;

	constructor(plan: BroadcastPlan) {
		this.#plan = plan;
		this.id = plan.id;
		// What was before lies in files of the node before.
		const goesOn = plan.handover != null;
		const recording = plan.recordingFile === null ? null : new Recording(plan.recordingFile, plan.changed, goesOn);
		this.#recording = recording;
		this.tracks = new Tracks(plan.tracks, plan.changed, () => recording?.fromUs ?? (goesOn && recording ? null : 0));
		this.#streams = plan.renditions.map(
			({ orders, kbps }, i) =>
				new Stream(orders, kbps, i === 0 ? this.#recording : null, plan.changed, () => this.#hasJoined(i)),
		);
		this.#timer = setInterval(() => this.#checkProgram(Date.now()), CHECK_MS);
		if (plan.handover) this.#goOn(plan.handover, Date.now());
	}

	/** Goes on where the clock says that the line is, with the holding card if there is one, until the desk comes. */
	#goOn({ beganAt, introduced }: Handover, now: number): void {
		const lineUs = Math.max(0, now - beganAt) * 1000;
		this.#firstPacketAt = beganAt;
		this.#sentUs = { video: lineUs, audio: lineUs };
		this.#timeline.advance(lineUs);
		for (const packet of introduced) this.#introduce(packet);
		this.#placedAt = now;
		this.#hold(now);
	}

	get publishers(): Publisher[] {
		return this.#streams.flatMap(({ publishers }) => publishers);
	}

	/** Null when it is not recorded. */
	get recording(): Recording['status'] | null {
		return this.#recording?.status ?? null;
	}

	/** True when the program is not recorded any more for want of room. */
	get diskFull(): boolean {
		return this.#recording?.status.fault?.code === 'diskFull';
	}

	/**
	 * Records the program in another file, from the next key frame on; what there is of the one before is kept.
	 * @param tracks files for what is recorded beside it, by order of the broadcast's tracks; null where one stays as it is
	 */
	recordAgain(file: string, tracks: readonly (TrackOrder | null)[] = []): void {
		void this.#recording?.end();
		const recording = new Recording(file, this.#plan.changed, true);
		this.#recording = recording;
		this.#streams[0]!.record(recording);
		this.tracks.recordAgain(tracks, () => recording.fromUs);
	}

	/** When the first packet came, milliseconds since 1970, or null; the recording begins there. */
	get beganAt(): number | null {
		return this.#firstPacketAt || null;
	}

	/** True while the engine's packets arrive. */
	get receiving(): boolean {
		return Date.now() - this.#lastPacketAt < SILENT_MS;
	}

	/** Since when viewers see the holding card, milliseconds since 1970, or null. */
	get holdingSince(): number | null {
		return this.#holding?.since ?? null;
	}

	/** Rate of each rendition, kbit/s. */
	get rates(): { kbps: number; plannedKbps: number }[] {
		return this.#streams.map(({ rate }) => ({ ...rate }));
	}

	/**
	 * An engine has connected its uplink.
	 * @param session names the engine's clock: the same one may come back after a broken connection
	 * @param down says something to the engine
	 */
	attach(session: string, down: (message: Downlink) => void): void {
		this.#down = down;
		this.#streams.forEach(({ rate }, rendition) => {
			if (rate.kbps !== rate.plannedKbps) down({ rendition, kbps: rate.kbps });
		});
		if (session === this.#session) return;
		this.#session = session;
		this.#early = [];
		for (const stream of this.#streams) stream.flush();
		this.#timeline.attach();
		this.tracks.attach();
	}

	/** @throws {ProtocolError} for a time that no engine can be at */
	receive(packet: UplinkPacket): void {
		const now = Date.now();
		if (this.#isCut) return;
		if ('timeUs' in packet) this.#needPossible(packet.timeUs);
		this.#lastPacketAt = now;
		if (packet.kind === 'end') return this.#engineDone?.();
		if (packet.kind === 'pcm') return this.tracks.receive(packet, this.#timeline);
		if (packet.rendition >= FIRST_TRACK && (packet.kind === 'video' || packet.kind === 'videoConfig'))
			return this.tracks.receive(packet, this.#timeline);
		if (packet.kind === 'video' || packet.kind === 'audio') return this.#receiveMedia(packet, now);
		this.#introduce(packet);
		this.#introducedAt = now;
	}

	/** Takes what packets mean, or a picture of the holding card. */
	#introduce(packet: UplinkPacket): void {
		if (packet.kind === 'audioConfig') {
			this.#audio = packet;
			for (const stream of this.#streams) stream.configure(null, packet);
		} else if (packet.kind === 'videoConfig') this.#streams[packet.rendition]?.configure(packet, this.#audio);
		else if (packet.kind === 'hold') this.#keepLoop(packet);
	}

	/** Tells what another node would go on with, once nothing more of it has come for a moment. */
	#tellIntroduced(now: number): void {
		if (this.#introducedAt === 0 || this.#firstPacketAt === 0 || now - this.#introducedAt < SETTLED_MS) return;
		this.#introducedAt = 0;
		const videos = this.#streams.flatMap(({ video }) => video ?? []);
		const holds = [...this.#loops].flatMap(([rendition, pictures]) =>
			pictures.map(({ key, data }) => ({ kind: 'hold' as const, rendition, key, data })),
		);
		this.#plan.introduced?.({
			beganAt: this.#firstPacketAt,
			introduced: [...videos, ...(this.#audio ? [this.#audio] : []), ...holds],
		});
	}

	/** What lies far ahead would wait, or be filled up to, without an end. */
	#needPossible(timeUs: number): void {
		const placed = this.#timeline.onLine(timeUs);
		if (placed === null) return;
		const { atMs, onLineUs } = this.#anchored;
		const aheadUs = placed - onLineUs - (performance.now() - atMs) * 1000;
		if (aheadUs <= MOST_AHEAD_US && aheadUs >= -MOST_BEHIND_US) return;
		// Should it be right after all, its next connection begins anew.
		this.#session = '';
		throw new ProtocolError(`The uplink’s time is ${Math.round(aheadUs / 1e6)} s from now`);
	}

	#keepLoop({ rendition, key, data }: HoldPacket): void {
		if (key) this.#loops.set(rendition, [{ key, data }]);
		const loop = this.#loops.get(rendition);
		if (!key && loop && loop.length < MOST_IN_LOOP) loop.push({ key, data });
	}

	#receiveMedia(packet: MediaPacket, now: number): void {
		const fps = this.#streams[0]?.video?.fps;
		if (!fps || !this.#audio) return;
		if (!this.#timeline.anchored) {
			if (packet.kind === 'audio') this.#early = [...this.#early.slice(1 - MOST_EARLY), packet];
			if (packet.kind !== 'video' || !packet.key || packet.rendition !== 0) {
				// A desk that was only slow would send its next one in its own time.
				if (this.#holding) this.#askKey(now);
				return;
			}
			this.#firstPacketAt ||= now;
			// Where viewers were held to, the program goes on; else where the wall clock says.
			const onLineUs = this.#holding ? lineOf(this.#holding, now) : (now - this.#firstPacketAt) * 1000;
			this.#release(now);
			this.#timeline.anchor(packet.timeUs, onLineUs, 1e6 / fps);
			this.#anchored = { atMs: performance.now(), onLineUs: this.#timeline.onLine(packet.timeUs)! };
			this.#place(packet, now);
			for (const sound of this.#early.splice(0)) this.#place(sound, now);
			return;
		}
		this.#place(packet, now);
	}

	/** Hands a packet on with its time on the line. */
	#place(packet: MediaPacket, now: number): void {
		this.#placedAt = now;
		this.#silentMs = 0;
		const timeUs = this.#timeline.place(packet.timeUs);
		if (timeUs === null) return;
		this.#sentUs[packet.kind] = Math.max(this.#sentUs[packet.kind], timeUs);
		const placed = { ...packet, timeUs };
		// There is one sound for all.
		if (packet.kind === 'audio') for (const stream of this.#streams) stream.push(placed);
		else this.#streams[packet.rendition]?.push(placed);
	}

	#checkProgram(now: number): void {
		this.#tellIntroduced(now);
		// What a machine that stood still has not handed over yet is not the desk's silence.
		this.#silentMs += Math.min(now - this.#checkedAt, 2 * CHECK_MS);
		this.#checkedAt = now;
		if (this.#wantsKey) this.#askKey(now);
		const holding = this.#holding;
		if (holding) {
			this.#sendHeld(holding, now);
			if (now - holding.since >= this.#plan.holdMs) this.#plan.heldTooLong();
		} else if (this.#firstPacketAt > 0 && !this.#engineDone && this.#silentMs >= HOLD_AFTER_MS) this.#hold(now);
	}

	/** Starts holding: the engine is silent. */
	#hold(now: number): void {
		const loops = new Map<number, Loop>();
		const paces = this.#streams.map(({ video }) => video?.fps ?? 0);
		const fps = Math.max(...paces);
		for (const [rendition, pictures] of this.#loops)
			if (paces[rendition] && isPlayable(pictures))
				loops.set(rendition, { pictures: [...pictures], every: Math.round(fps / paces[rendition]) });
		if (!this.#audio || !loops.has(0)) return;
		log.warn({ broadcast: this.id }, 'Nothing comes from the desk; viewers see the holding card');
		this.#wantsKey = false;
		for (const stream of this.#streams) stream.flush();
		const { video: videoUs, audio: audioUs } = this.#sentUs;
		this.#holding = {
			line: new HoldingLine(loops, fps, this.#audio, this.#sentUs),
			since: now,
			fromUs: Math.max(videoUs, audioUs) + (now - this.#placedAt) * 1000,
		};
		this.#timeline.attach();
		this.#sendHeld(this.#holding, now);
		this.#plan.changed();
	}

	#sendHeld(holding: Holding, now: number): void {
		for (const packet of holding.line.until(lineOf(holding, now))) {
			this.#sentUs[packet.kind] = packet.timeUs;
			this.#timeline.advance(packet.timeUs);
			if (packet.kind === 'audio') for (const stream of this.#streams) stream.push(packet);
			else this.#streams[packet.rendition]?.push(packet);
		}
	}

	/** Ends holding: the program is back. */
	#release(now: number): void {
		const holding = this.#holding;
		if (!holding) return;
		this.#sendHeld(holding, now);
		for (const stream of this.#streams) stream.flush();
		this.#holding = null;
		log.info({ broadcast: this.id, heldMs: now - holding.since }, 'The program is back');
		this.#plan.changed();
	}

	/** Whoever begins to take packets can begin with a key frame only, and need not wait for the next one of itself. */
	#hasJoined(rendition: number): void {
		if (this.#holding) this.#holding.line.beginAnew(rendition);
		else this.#wantsKey = this.#timeline.anchored;
	}

	#askKey(now: number): void {
		if (now - this.#askedKeyAt < ASK_KEY_MS) return;
		this.#askedKeyAt = now;
		this.#wantsKey = false;
		this.#down({ needKey: true });
	}

	/** Brings all figures up to date; called about once a second. */
	measure(now: number): void {
		this.#streams.forEach((stream, rendition) => {
			const kbps = stream.measure(now);
			if (kbps !== null) this.#down({ rendition, kbps });
		});
		this.#recording?.measure();
	}

	/** Replaces what is known of a destination, and tries it again with that. */
	renew(order: PublishOrder): void {
		for (const stream of this.#streams) stream.renew(order);
	}

	publisherOf(destinationId: string): Publisher | null {
		return this.publishers.find(({ order }) => order.id === destinationId) ?? null;
	}

	/** Sends what still arrives from the engine, then ends every destination and the recording in good order. */
	end(): Promise<void> {
		return (this.#ending ??= this.#end());
	}

	/** Another node goes on: lets go of every destination at once, and ends what is recorded here in good order. */
	async cut(): Promise<void> {
		this.#isCut = true;
		clearInterval(this.#timer);
		for (const stream of this.#streams) stream.cut();
		this.#ending ??= Promise.resolve();
		await Promise.all([this.#recording?.end(), this.tracks.end()]);
	}

	async #end(): Promise<void> {
		const done = new Promise<void>((resolve) => (this.#engineDone = resolve));
		if (this.receiving) await Promise.race([done, new Promise((resolve) => setTimeout(resolve, LAST_PACKETS_MS))]);
		clearInterval(this.#timer);
		await Promise.all(this.#streams.map((stream) => stream.end()));
		await Promise.all([this.#recording?.end(), this.tracks.end()]);
	}
}

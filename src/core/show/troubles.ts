/** Finds what is wrong with an evening from its state and reports. Gives codes; `lib/words` has the sentences. */
import type { GuestPresence } from '../guests/messages.ts';
import { guestIn, reaches } from './guests/guest.ts';
import { isClip } from './clips/source.ts';
import type { SendFault } from '../delivery/send-fault.ts';
import type { WriteFault } from './delivery/write-fault.ts';
import type { DestinationStatus, LiveStatus, SoundReport } from './messages.ts';
import { kindOf } from './sources/source.ts';
import { isOnAir, type ShowState } from './state.ts';
import type { Unreadable } from './stored.ts';

/** One process cannot take more than one core; before that it is late. */
const BUSY_CORES = 0.8;
const LITTLE_ROOM_S = 30 * 60;
/** A program that is black for so long is black by mistake, or has been forgotten. */
export const BLACK_MS = 5000;
/** The loudness of a broadcast is judged only after this time, milliseconds. */
const LOUDNESS_FROM_MS = 60_000;
/** A channel put to one side by more than this is there on purpose. */
const ON_ONE_SIDE = 0.5;

type Heard = SoundReport['channels'][number];

/**
 * What is wrong with a guest: their line is gone, loses much, or carries a smaller picture than is wanted; their picture
 * stands still, is black or does not come; what they hear comes back; nothing is heard of them, or they distort.
 */
export type GuestFault = 'gone' | 'loses' | 'smaller' | 'frozen' | 'echo' | 'noSound' | 'tooLoud';
/** A line that loses a greater part of its packets is heard and seen to. */
const LOSES = 0.04;

/**
 * What is known. How sources and the engine do is told by codes of theirs, which are handed on as they are.
 * @typeParam F fault of a source
 * @typeParam T trouble of a part of the engine
 */
export interface Known<F, T> {
	show: ShowState;
	status: LiveStatus | null;
	connected: boolean;
	/** True while another page makes the program. */
	isWatching: boolean;
	/** True while the browser holds sound and picture back. */
	needsPress: boolean;
	/** By part of the engine. */
	engine: Readonly<Partial<Record<string, T>>>;
	conditions: ReadonlyMap<string, { since: number; fault: F | null }>;
	heard: SoundReport | null;
	/** How guests do, besides where they are. */
	guests: readonly GuestPresence[];
	/** For how long viewers have seen nothing but black. */
	blackMs: number;
	/** True where somebody has only the sound to care for. */
	onlySound: boolean;
	/** Milliseconds since 1970, by this machine's clock; and what the server's is ahead of it. */
	now: number;
	clockOffsetMs: number;
}

/** What is wrong; `at` is on this machine's clock. */
export type What<F, T> =
	| { is: 'unreachable' | 'watching' | 'needsPress' | 'notStored' | 'noProgram' }
	| { is: 'engine'; part: string; trouble: T }
	| { is: 'unreadable'; unreadable: readonly Unreadable[] }
	| { is: 'serverBusy'; cores: number }
	| { is: 'recordingFailed'; write: WriteFault }
	| { is: 'recordsElsewhere' }
	| { is: 'tracksStopped'; names: string[]; write: WriteFault }
	| { is: 'littleRoom'; roomS: number }
	| { is: 'holding'; at: number }
	/** @property why black was asked for, nothing is in the program, or what is there is black */
	| { is: 'black'; why: 'asked' | 'nothing' | 'picture' }
	| { is: 'rateDown'; kbps: number; plannedKbps: number }
	| { is: 'notPublic'; destinationId: string; name: string }
	| { is: 'refused'; destinationId: string; name: string; send: SendFault | null }
	| { is: 'lost'; destinationId: string; name: string; send: SendFault | null; at: number }
	| { is: 'source'; name: string; at: number; fault: F }
	| { is: 'mix'; fault: SoundReport['mix']['faults'][number]; side: SoundReport['mix']['side'] }
	| { is: 'channel'; name: string; fault: Heard['faults'][number]; side: Heard['side'] }
	/** @property lost part of the packets @property isLess a smaller picture comes than is wanted */
	| { is: 'guest'; name: string; fault: GuestFault; lost: number; isLess: boolean }
	| { is: 'echo'; names: string[] }
	| { is: 'apart'; channel: string; camera: string; beforeMs: number }
	| { is: 'loudness'; integrated: number; targetLufs: number };

export type Found<F, T> = What<F, T> & {
	/** Names the trouble among all there are at a time. */
	key: string;
	/** Viewers get less than they should, or it will be missing afterwards: worth an alarm. */
	isGrave: boolean;
};

/** All that is wrong, what is grave first. */
export function findTroubles<F, T>(known: Known<F, T>): Found<F, T>[] {
	const found: Found<F, T>[] = [];
	const add = (key: string, what: What<F, T>, isGrave = false) => found.push({ ...what, key, isGrave });
	const { show, status, engine, onlySound } = known;
	const onAir = isOnAir(show);
	if (!known.connected) add('unreachable', { is: 'unreachable' }, true);
	if (known.isWatching && !onlySound) add('watching', { is: 'watching' });
	if (known.needsPress) add('needsPress', { is: 'needsPress' });
	const { machine, ...stopping } = engine;
	for (const [part, trouble] of Object.entries(stopping))
		if (trouble) add(`engine ${part}`, { is: 'engine', part, trouble });
	if (status && !status.stored) add('notStored', { is: 'notStored' });
	if (status && status.unreadable.length > 0) add('unreadable', { is: 'unreadable', unreadable: status.unreadable });
	if (onAir && status && status.serverCores > BUSY_CORES)
		add('serverBusy', { is: 'serverBusy', cores: status.serverCores });
	if (status) findRecordingTroubles(show, status, onAir, add);
	if (onAir && status) findProgramTroubles(known, status, add);
	for (const destination of status?.destinations ?? []) findDestinationTrouble(known, destination, add);
	for (const source of show.setup.sources) {
		if (onlySound && kindOf(source).brings.picture) continue;
		const condition = known.conditions.get(source.id);
		if (!condition?.fault) continue;
		// Of guests is told under their names.
		if (guestIn(show, source.id)) continue;
		add(`source ${source.id}`, { is: 'source', name: source.name, at: condition.since, fault: condition.fault });
	}
	findGuestTroubles(known, add);
	if (known.heard) findSoundTroubles(known, known.heard, add);
	// Nothing is lost by it yet.
	if (machine) add('machine', { is: 'engine', part: 'machine', trouble: machine });
	return found.toSorted((a, b) => Number(b.isGrave) - Number(a.isGrave));
}

type Add<F, T> = (key: string, what: What<F, T>, isGrave?: boolean) => void;

function findRecordingTroubles<F, T>(show: ShowState, status: LiveStatus, onAir: boolean, add: Add<F, T>): void {
	const { fault, tracks, roomS, elsewhere } = status.recording;
	if (onAir && fault) add('recording', { is: 'recordingFailed', write: fault }, true);
	if (show.setup.delivery.records && elsewhere) add('recordsElsewhere', { is: 'recordsElsewhere' });
	const stopped = onAir ? tracks.filter((track) => track.fault !== null) : [];
	const kinds = new Map(stopped.map((track) => [JSON.stringify(track.fault), track.fault!]));
	for (const [why, write] of kinds) {
		const names = stopped.filter((track) => JSON.stringify(track.fault) === why).map(({ name }) => name);
		add(`tracks ${why}`, { is: 'tracksStopped', names, write });
	}
	if (show.setup.delivery.records && roomS !== null && roomS < LITTLE_ROOM_S)
		add('littleRoom', { is: 'littleRoom', roomS });
}

function findProgramTroubles<F, T>(known: Known<F, T>, status: LiveStatus, add: Add<F, T>): void {
	const { show, blackMs, clockOffsetMs } = known;
	if (status.holdingSince !== null) add('holding', { is: 'holding', at: status.holdingSince - clockOffsetMs }, true);
	else if (!status.receiving) add('noProgram', { is: 'noProgram' }, true);
	else if (blackMs >= BLACK_MS) {
		const why = show.live.black ? 'asked' : show.live.program === null ? 'nothing' : 'picture';
		add('black', { is: 'black', why }, why !== 'asked');
	}
	for (const [i, { kbps, plannedKbps }] of status.rates.entries())
		if (kbps < plannedKbps) add(`rate ${i}`, { is: 'rateDown', kbps, plannedKbps });
}

function findDestinationTrouble<F, T>(
	{ show, clockOffsetMs }: Known<F, T>,
	{ id: destinationId, phase, fault: send, since, audience }: DestinationStatus,
	add: Add<F, T>,
): void {
	const name = show.setup.destinations.find(({ id }) => id === destinationId)?.name ?? destinationId;
	if (audience?.public === false) add(`destination ${destinationId}`, { is: 'notPublic', destinationId, name });
	else if (phase === 'refused') add(`destination ${destinationId}`, { is: 'refused', destinationId, name, send }, true);
	else if (phase === 'lost' || (phase === 'connecting' && send))
		add(`destination ${destinationId}`, { is: 'lost', destinationId, name, send, at: since - clockOffsetMs }, true);
}

/** Of whoever is in a seat; who waits in the green room is no trouble to viewers. */
function findGuestTroubles<F, T>({ show, guests, heard, conditions }: Known<F, T>, add: Add<F, T>): void {
	for (const guest of show.live.guests) {
		const { id, name, seatId } = guest;
		const presence = guests.find((each) => each.id === id);
		if (!presence || seatId === null) continue;
		const tell = (fault: GuestFault, isGrave = false) =>
			add(
				`guest ${id} ${fault}`,
				{ is: 'guest', name, fault, lost: presence.line?.lost ?? 0, isLess: presence.line?.isLess ?? false },
				isGrave,
			);
		if (!presence.isThere) {
			const { seen, heard: isHeard } = reaches(show, guest);
			tell('gone', isOnAir(show) && (seen || isHeard));
			continue;
		}
		if ((presence.line?.lost ?? 0) >= LOSES) tell('loses');
		else if (presence.line?.isLess) tell('smaller');
		if (conditions.get(seatId)?.fault) tell('frozen');
		if (presence.line?.echo) tell('echo');
		const channel = show.setup.channels.find((each) => each.sourceId === seatId);
		const faults = heard?.channels.find((each) => each.id === channel?.id)?.faults ?? [];
		if (faults.includes('idle') && !presence.muted) tell('noSound');
		if (faults.includes('clipping')) tell('tooLoud');
	}
}

function findSoundTroubles<F, T>({ show, now, clockOffsetMs }: Known<F, T>, heard: SoundReport, add: Add<F, T>): void {
	const { channels, sources, mix } = show.setup;
	for (const fault of heard.mix.faults)
		add(`mix ${fault}`, { is: 'mix', fault, side: heard.mix.side }, fault === 'silent');
	for (const { id, faults, side } of heard.channels) {
		const channel = channels.find((each) => each.id === id);
		for (const fault of channel ? faults : []) {
			// What is put to one side on purpose is on one side; a microphone alone has no sides.
			const hasSides = channel!.inputs.length === 2 && Math.abs(channel!.strip.pan) < ON_ONE_SIDE;
			if ((fault === 'oneSide' || fault === 'outOfPhase') && !hasSides) continue;
			// Somebody may just not be speaking.
			if (fault === 'silent') continue;
			// A file that is over, or quiet for a while, has no cable; of guests is told under their names.
			const source = sources.find((each) => each.id === channel!.sourceId);
			if ((fault === 'idle' && isClip(source)) || source?.kind === 'seat') continue;
			add(`channel ${id} ${fault}`, { is: 'channel', name: channel!.name, fault, side });
		}
	}
	const nameOf = (id: string) => [...channels, ...sources].find((each) => each.id === id)?.name;
	const echo = heard.echo.map(nameOf).filter((name) => name !== undefined);
	if (echo.length > 0) add('echo', { is: 'echo', names: echo });
	for (const { channelId, sourceId, beforeMs } of heard.apart) {
		const [channel, camera] = [nameOf(channelId), nameOf(sourceId)];
		if (channel && camera) add(`apart ${channelId}`, { is: 'apart', channel, camera, beforeMs });
	}
	if (canJudgeLoudness(show, now + clockOffsetMs))
		add('loudness', { is: 'loudness', integrated: heard.mix.integrated, targetLufs: mix.master.targetLufs });
}

/** True when a broadcast has gone on for long enough. @param now by the server's clock */
export function canJudgeLoudness(show: ShowState, now: number): boolean {
	return isOnAir(show) && now - show.live.broadcast!.startedAt > LOUDNESS_FROM_MS;
}

/** Brings the channels of the show to the sound worklet, and tells it what to do with them. */
import type { Group } from '../core/show/mix/mix.ts';
import type { ChannelTrack } from '../core/show/delivery/tracks.ts';
import type { ShowState } from '../core/show/state.ts';
import { mixPlan } from '../core/sound/mix-plan.ts';
import type { Listened } from '../core/sound/mixer.ts';
import { InputTable } from './input-table.ts';
import type { FromMix, ToMix } from './mix.worklet.ts';
import { plain } from './plain.ts';
import { isOf, ReturnTable } from './guests/return-table.ts';
import { FIRST_RETURN, MAX_CHANNELS, MOST_RETURNS, SAMPLE_RATE, type TrackMemory } from './shared.ts';
import { engineFailure } from './trouble.ts';

/** What the person at the desk hears in the headphones. */
export type Hearing =
	{ to: 'nothing' | 'mix' | 'greenRoom' } | { to: 'channel'; channelId: string } | { to: 'group'; group: Group };

/** What came in at some channels, one side of each, from a time on the engine's clock on. */
export interface Captured {
	startMs: number;
	sounds: Float32Array<ArrayBuffer>[];
}

/** A channel that is recorded apart, with its place among all tracks. */
export type SoundTrack = ChannelTrack & { index: number };

export class MixRouter {
	#audio: AudioContext;
	#node: AudioWorkletNode;
	#splitterOf: (sourceId: string) => ChannelSplitterNode | null;
	#inputs = new InputTable<ChannelSplitterNode>(MAX_CHANNELS);
	#returns = new ReturnTable(MOST_RETURNS);
	#postedReturns = '[]';
	#mergers = new Map<string, ChannelMergerNode>();
	#postedPlan = '';
	/** Timed fades that the mixer knows of. */
	#fades: number | null = null;
	/** Sounds that are recorded apart, and what the mixer was told of them last. */
	#tracks: readonly SoundTrack[] = [];
	#trackMemory: TrackMemory = { rings: [], indices: [] };
	#recorded: { memory: TrackMemory | null; inputs: string } = { memory: null, inputs: '' };
	#captures = new Map<number, { resolve: (captured: Captured) => void; reject: (reason: Error) => void }>();
	#captureCount = 0;
	#hearing: Hearing = { to: 'nothing' };

	constructor(
		audio: AudioContext,
		node: AudioWorkletNode,
		splitterOf: (sourceId: string) => ChannelSplitterNode | null,
	) {
		this.#audio = audio;
		this.#node = node;
		this.#splitterOf = splitterOf;
	}

	inputOf(channelId: string): number | null {
		return this.#inputs.inputOf(channelId);
	}

	/** Connects channels as the show says and posts the plan of the mix, if it is another one. */
	follow(state: ShowState): void {
		const { disconnect, connect } = this.#inputs.follow(state.setup.channels, this.#splitterOf);
		for (const { channelId } of disconnect) {
			this.#mergers.get(channelId)?.disconnect();
			this.#mergers.delete(channelId);
		}
		for (const { channelId, splitter, from, input } of connect) {
			const merger = new ChannelMergerNode(this.#audio, { numberOfInputs: from.length });
			// Of a source with one input alone, that is both sides.
			from.forEach((output, side) => splitter.connect(merger, Math.min(output, splitter.numberOfOutputs - 1), side));
			merger.connect(this.#node, 0, input);
			this.#mergers.set(channelId, merger);
		}
		this.#recordTracks();
		this.#leaveOut(state);
		const { count } = state.live.fade;
		const isFading = this.#fades !== null && count !== this.#fades;
		this.#fades = count;
		const plan = mixPlan(state, (id) => this.inputOf(id), MAX_CHANNELS, isFading);
		const posted = JSON.stringify(plan);
		if (posted === this.#postedPlan) return;
		this.#postedPlan = posted;
		if (this.#hearing.to !== 'nothing') this.#listen(state);
		this.#post({ type: 'plan', plan: plain(plan) });
	}

	/** Tells the mixer which channels each guest must not hear: those of their own seats. */
	#leaveOut(state: ShowState): void {
		this.#returns.follow(state.live.guests);
		const parts = this.#returns.guests.map((guest) => {
			const own = state.setup.channels.filter(({ sourceId }) => guest && isOf(guest, sourceId));
			return own.map(({ id }) => this.inputOf(id)).filter((input) => input !== null);
		});
		const posted = JSON.stringify(parts);
		if (posted === this.#postedReturns) return;
		this.#postedReturns = posted;
		this.#post({ type: 'leaveOut', parts });
	}

	/** The output of the mixer that has all but a guest; null for one without a seat. */
	returnOf(guestId: string): number | null {
		const place = this.#returns.guests.findIndex((guest) => guest?.id === guestId);
		return place < 0 ? null : FIRST_RETURN + place;
	}

	/** What the headphones hear. */
	hear(hearing: Hearing, state: ShowState | null): void {
		this.#hearing = hearing;
		if (state) this.#listen(state);
	}

	#listen(state: ShowState): void {
		const hearing = this.#hearing;
		const listened = ((): Listened => {
			if (hearing.to === 'channel') {
				const input = this.inputOf(hearing.channelId);
				return input === null ? { to: 'nothing' } : { to: 'channel', input };
			}
			if (hearing.to === 'greenRoom') return { to: 'nothing' };
			if (hearing.to !== 'group') return { to: hearing.to };
			const ids = state.setup.channels.filter(({ group }) => group === hearing.group).map(({ id }) => id);
			return { to: 'group', inputs: ids.map((id) => this.inputOf(id)).filter((input) => input !== null) };
		})();
		this.#post({ type: 'listen', listened });
	}

	/** How loud the broadcast is counts from here on. */
	restartLoudness(): void {
		this.#post({ type: 'restartLoudness' });
	}

	/** Writes other sounds apart from now on, into other memory. */
	record(tracks: readonly SoundTrack[], memory: TrackMemory): void {
		this.#tracks = tracks;
		this.#trackMemory = memory;
		this.#recordTracks();
	}

	/** Tells the mixer where the sounds that are recorded apart come in now. */
	#recordTracks(): void {
		const inputs = this.#tracks.map(({ id }) => this.inputOf(id) ?? -1);
		if (this.#trackMemory === this.#recorded.memory && String(inputs) === this.#recorded.inputs) return;
		this.#recorded = { memory: this.#trackMemory, inputs: String(inputs) };
		this.#post({ type: 'record', rings: this.#trackMemory.rings, inputs });
	}

	/**
	 * Keeps what comes in at channels for so many seconds, before anything is done to it.
	 * @param tone at 48 kHz, played to the headphones from the first sample on that is kept
	 * @throws {EngineFailure} when one of them has no sound, or the engine is closed meanwhile
	 */
	capture(
		channelIds: readonly string[],
		seconds: number,
		tone: Float32Array<ArrayBuffer> | null = null,
	): Promise<Captured> {
		const inputs = channelIds.map((id) => this.inputOf(id));
		if (!inputs.every((input) => input !== null)) throw engineFailure('channelSilent', {});
		const id = this.#captureCount++;
		this.#post({ type: 'capture', id, inputs, samples: seconds * SAMPLE_RATE, tone });
		return new Promise((resolve, reject) => this.#captures.set(id, { resolve, reject }));
	}

	handleCaptured({ id, startSample, sounds }: Extract<FromMix, { type: 'captured' }>): void {
		this.#captures.get(id)?.resolve({ startMs: (1000 * startSample) / SAMPLE_RATE, sounds });
		this.#captures.delete(id);
	}

	#post(message: ToMix): void {
		this.#node.port.postMessage(message);
	}

	close(): void {
		for (const { reject } of this.#captures.values()) reject(engineFailure('closed', {}));
		this.#captures.clear();
	}
}

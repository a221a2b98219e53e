/** Keeps the sources of a show open: opens them, notices when they are lost, tries again, and tells how each does. */
import type { KindName } from '../core/show/sources/kinds.ts';
import { kindOf, originOf, type Source } from '../core/show/sources/source.ts';
import { dequal } from 'dequal';
import type { SourcePicture } from './messages.ts';
import { faultOf, type Fault } from './sources/fault.ts';
import type { OpenKind } from './sources/open-kinds.ts';
import type { OpenPicture, OpenSource, SourceCondition, SourceContext } from './sources/open-source.ts';

const RETRY_MS = 2000;
/** A camera that brings no new frame for this long is lost, whatever the system says of it. */
const SILENT_MS = 1000;
/** A device that stands still for this long is opened anew; some wake up from that. */
const STUCK_MS = 5000;
/** One that has not sent its first frame for this long is lost; some cameras take several seconds for it. */
const FIRST_MS = 10_000;
const SILENT: Fault = { code: 'noNewFrames', about: {} };

/** A source's sound, split into its inputs. */
export interface Splitter {
	disconnect(): void;
}

export interface SourceKeeperParts<S extends Splitter> {
	/** How sources are opened, by kind; all others are drawn by the picture worker. */
	kinds: { readonly [K in KindName]?: OpenKind<never> };
	context: SourceContext;
	/** Hands a source's picture to the picture worker; returns how many messages that has been sent by then. */
	showPicture(source: Source, picture: OpenPicture): number;
	hidePicture(sourceId: string): void;
	/** @param inputs that the sound has */
	split(sound: AudioNode, inputs: number): S;
	/** A source's sound has come or gone. */
	onSound(): void;
	/** How sources do, by id; whenever that changes. */
	onConditions(conditions: ReadonlyMap<string, SourceCondition>): void;
	/** Milliseconds since 1970. */
	now(): number;
}

/** Frames are counted over so long. */
const COUNTED_MS = 3000;

/** How many frames come in a second, from a count that only rises. */
class FrameRate {
	#since: { arrived: number; at: number } | null = null;
	/** Null before it was counted for long enough. */
	fps: number | null = null;

	/** @param at milliseconds of any clock that goes on */
	note(arrived: number, at: number): void {
		// Opened anew it counts anew.
		if (!this.#since || arrived < this.#since.arrived) this.#since = { arrived, at };
		const lastedMs = at - this.#since.at;
		if (lastedMs < COUNTED_MS) return;
		this.fps = (1000 * (arrived - this.#since.arrived)) / lastedMs;
		this.#since = { arrived, at };
	}
}

interface Kept<S> {
	source: Source;
	open: OpenSource | null;
	/** Messages that the picture worker had been sent when this was shown; what it tells before it has handled them is of an earlier opening. */
	shownAt: number;
	opening: boolean;
	/** What it comes from has become another while it was opened. */
	stale: boolean;
	closed: boolean;
	splitter: S | null;
	retry: ReturnType<typeof setTimeout> | undefined;
}

export class SourceKeeper<S extends Splitter> {
	#parts: SourceKeeperParts<S>;
	#kept = new Map<string, Kept<S>>();
	#conditions = new Map<string, SourceCondition>();
	#rates = new Map<string, FrameRate>();

	constructor(parts: SourceKeeperParts<S>) {
		this.#parts = parts;
	}

	/** Opens what is new, closes what is gone, and opens anew what comes from somewhere else now. */
	follow(sources: readonly Source[]): void {
		for (const [id, kept] of this.#kept) {
			const now = sources.find((source) => source.id === id);
			const isSame = now && (!this.#kindOf(now) || dequal(this.#fromOf(now), this.#fromOf(kept.source)));
			if (isSame) kept.source = now;
			else this.#drop(kept);
		}
		for (const source of sources) {
			if (this.#kept.has(source.id)) continue;
			const kept: Kept<S> = {
				source,
				open: null,
				shownAt: 0,
				opening: false,
				stale: false,
				closed: false,
				splitter: null,
				retry: undefined,
			};
			this.#kept.set(source.id, kept);
			this.#setCondition(source.id, 'opening', null);
			// What the engine draws is there at once.
			if (this.#kindOf(source)) void this.#open(kept);
			else this.#setCondition(source.id, 'live', null, this.#parts.context.picture);
		}
	}

	/** What a source is opened from. */
	#fromOf(source: Source): object {
		return this.#kindOf(source)?.from?.(source) ?? originOf(source);
	}

	#kindOf(source: Source): OpenKind | undefined {
		return this.#parts.kinds[source.kind] as OpenKind | undefined;
	}

	/** A source's sound, or null while it brings none. */
	splitterOf(sourceId: string): S | null {
		return this.#kept.get(sourceId)?.splitter ?? null;
	}

	get conditions(): ReadonlyMap<string, SourceCondition> {
		return this.#conditions;
	}

	/** Tries all that are not open: something was plugged in, or shared. */
	reopen(): void {
		for (const kept of this.#kept.values()) if (!kept.open) void this.#open(kept);
	}

	/** Opens a source anew: what it comes from is another one now. */
	renew(sourceId: string): void {
		const kept = this.#kept.get(sourceId);
		if (!kept) return;
		kept.stale = kept.opening;
		if (kept.opening) return;
		this.#disconnect(kept);
		void this.#open(kept);
	}

	async #open(kept: Kept<S>): Promise<void> {
		const kind = this.#kindOf(kept.source);
		if (!kind || kept.opening || kept.open || kept.closed) return;
		kept.opening = true;
		clearTimeout(kept.retry);
		const { source } = kept;
		try {
			const open = await kind.open(source, this.#parts.context);
			if (kept.closed) return open.close();
			kept.open = open;
			open.onLost = (fault) => this.#lose(kept, fault);
			// An image has no size any more once it has gone to the worker.
			const size = open.picture && 'image' in open.picture ? sizeOf(open.picture.image) : undefined;
			if (open.picture) kept.shownAt = this.#parts.showPicture(source, open.picture);
			if (open.sound) {
				kept.splitter = this.#parts.split(open.sound, open.inputs ?? 2);
				this.#parts.onSound();
			}
			// Of a picture that comes in frames the first one says that it is there.
			if (!open.picture || open.isHeard || size) this.#setCondition(source.id, 'live', null, size);
		} catch (error) {
			this.#setCondition(source.id, 'lost', faultOf(error, source.name));
			this.#openLater(kept);
		} finally {
			kept.opening = false;
			if (kept.stale) this.renew(source.id);
		}
	}

	#openLater(kept: Kept<S>): void {
		// What a person has to share again does not come back by itself.
		if (kept.closed || this.#kindOf(kept.source)?.needsPerson) return;
		kept.retry = setTimeout(() => void this.#open(kept), RETRY_MS);
	}

	#lose(kept: Kept<S>, fault: Fault): void {
		if (kept.closed || !kept.open) return;
		kept.open.onLost = null;
		this.#disconnect(kept);
		this.#setCondition(kept.source.id, 'lost', fault);
		this.#openLater(kept);
	}

	#disconnect(kept: Kept<S>): void {
		if (!kept.open) return;
		if (kept.open.picture) this.#parts.hidePicture(kept.source.id);
		kept.open.sound?.disconnect();
		kept.open.close();
		kept.open = null;
		if (!kept.splitter) return;
		kept.splitter.disconnect();
		kept.splitter = null;
		this.#parts.onSound();
	}

	#drop(kept: Kept<S>): void {
		kept.closed = true;
		clearTimeout(kept.retry);
		this.#disconnect(kept);
		this.#kept.delete(kept.source.id);
		this.#conditions.delete(kept.source.id);
		this.#rates.delete(kept.source.id);
		this.#parts.onConditions(this.#conditions);
	}

	/** Frames of a live source in a second, as they came in the last few; null while that is not known. */
	frameRateOf(sourceId: string): number | null {
		return this.#rates.get(sourceId)?.fps ?? null;
	}

	/**
	 * How live pictures do, as the picture worker sees them.
	 * @param handled how many messages it had handled by then
	 */
	handlePictures(pictures: readonly SourcePicture[], handled: number): void {
		for (const picture of pictures) {
			const kept = this.#kept.get(picture.sourceId);
			if (!kept?.open?.picture || handled < kept.shownAt) continue;
			this.#countFrames(picture);
			this.#judge(kept, picture);
		}
	}

	#countFrames({ sourceId, arrived }: SourcePicture): void {
		if (arrived === null) return;
		const rate = this.#rates.get(sourceId) ?? new FrameRate();
		this.#rates.set(sourceId, rate);
		rate.note(arrived, this.#parts.now());
	}

	#judge(kept: Kept<S>, { size, silentMs, problem, fault, uncertain }: SourcePicture): void {
		const { id } = kept.source;
		const mustMove = kept.open?.mustMove === true;
		const { mayStandStill } = kindOf(kept.source);
		const isDevice = this.#kindOf(kept.source)?.isDevice === true;
		if (problem) return this.#setCondition(id, 'lost', { code: 'unreadable', about: { problem } }, size ?? undefined);
		if (!size) {
			if (silentMs < FIRST_MS) return;
			if (isDevice) return this.#lose(kept, SILENT);
			return mustMove ? this.#setCondition(id, 'lost', SILENT) : undefined;
		}
		if (silentMs >= SILENT_MS && !mayStandStill) {
			if (silentMs > STUCK_MS && isDevice) return this.#lose(kept, SILENT);
			return this.#setCondition(id, 'lost', SILENT);
		}
		const stands = mustMove && silentMs >= SILENT_MS ? 'frozen' : mayStandStill && !mustMove ? null : fault;
		const seen: Fault | null = stands ? { code: stands, about: {} } : null;
		this.#setCondition(id, 'live', uncertain ? { code: 'pageLost', about: {} } : seen, size);
	}

	/** A file with pictures that move has been read, or why it cannot be. */
	handleAnimation(sourceId: string, size: { width: number; height: number }, problem: string): void {
		if (!this.#kept.has(sourceId)) return;
		if (problem) this.#setCondition(sourceId, 'lost', { code: 'file', about: { problem } });
		else this.#setCondition(sourceId, 'live', null, size);
	}

	#setCondition(
		sourceId: string,
		state: SourceCondition['state'],
		fault: Fault | null,
		size?: { width: number; height: number },
	): void {
		const old = this.#conditions.get(sourceId);
		const { width, height } = size ?? old ?? { width: 0, height: 0 };
		const hasSameState = old?.state === state && (old.fault === null) === (fault === null);
		const since = hasSameState ? old.since : this.#parts.now();
		const could = this.#kept.get(sourceId)?.open?.could;
		const condition = { state, since, fault, width, height, ...(could && { could }) };
		if (old && dequal(old, condition)) return;
		this.#conditions.set(sourceId, condition);
		this.#parts.onConditions(this.#conditions);
	}

	close(): void {
		for (const kept of [...this.#kept.values()]) this.#drop(kept);
	}
}

function sizeOf({ width, height }: ImageBitmap): { width: number; height: number } {
	return { width, height };
}

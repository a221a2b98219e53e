/** Runs a whole run sheet through in no time, as it is planned, and says what would happen and what would go wrong. */
import { clipOf, isClip, isInProgram, standingOf } from '../clips/source.ts';
import { firstDue } from '../due.ts';
import { isShown } from '../overlays/overlay.ts';
import { tryReduce } from '../reduce.ts';
import type { Command } from '../command.ts';
import { emptyLive, isOnAir, type ShowState } from '../state.ts';
import { withLive } from '../slice.ts';
import type { Cue } from './cue.ts';
import { missingFor, type Conflict } from './missing.ts';
import { currentCue, following, isDoable, nextCue, plannedStart, timeOfEvening } from './order.ts';
import { lengthOf, plannedTimes } from './plan.ts';

/** What viewers have from a moment on. */
export interface DryStep {
	/** Milliseconds since 1970, as it is planned. */
	at: number;
	cueId: string;
	/** How it comes: somebody presses Go, the cue before ends by itself, or a rotation changes its scene. */
	by: 'go' | 'itself' | 'turn';
	sceneId: string | null;
	overlayIds: string[];
	/** Clips that play. */
	clipIds: string[];
}

export interface DryRun {
	steps: DryStep[];
	/** When the last cue is over, milliseconds since 1970. */
	endsAt: number;
	/** In the order of the sheet. */
	conflicts: Conflict[];
}

/** What a cue without any length is taken to last. */
const UNKNOWN_LENGTH_MS = 60_000;
/** More steps than that are no evening; a rotation for a whole day stops there. */
const MOST_STEPS = 5000;
/** Somebody presses Go only after the double press is over. */
const SHORTEST_MS = 400;
/** So long two things may go together from one scene to the next. */
const PASSING_MS = 3000;

/**
 * Runs the sheet on a copy of the show: every Go is pressed when it is planned, everything else comes by itself.
 * @param hasFile whether a file is in the media library
 */
export function dryRun(show: ShowState, hasFile: (mediaId: string) => boolean): DryRun {
	return new Run(show, hasFile).done();
}

class Run {
	#state: ShowState;
	#now: number;
	#steps: DryStep[] = [];
	#conflicts: Conflict[];
	/** When somebody presses Go; never while something comes by itself. */
	#pressAt = 0;

	constructor(show: ShowState, hasFile: (mediaId: string) => boolean) {
		const cues = show.setup.cues.filter(isDoable);
		this.#conflicts = cues.flatMap((cue) => missingFor(show, cue, hasFile));
		const planned = plannedTimes(show);
		const [first] = cues;
		this.#now = (first && planned.get(first.id)?.at) ?? plannedStart(show) ?? 0;
		this.#pressAt = this.#now;
		// As it is before an evening, and on air, so that the last cue can end it.
		this.#state = withLive(show, { ...emptyLive(), lines: show.live.lines });
		this.#do({ type: 'startBroadcast', broadcastId: 'dry-run' });
	}

	done(): DryRun {
		while (this.#steps.length < MOST_STEPS && isOnAir(this.#state)) if (!this.#step()) break;
		this.#checkEnd();
		const order = new Map(this.#state.setup.cues.map(({ id }, place) => [id, place]));
		const place = ({ cueId }: Conflict) => (cueId === null ? Infinity : (order.get(cueId) ?? Infinity));
		return {
			steps: this.#steps,
			endsAt: this.#now,
			conflicts: this.#conflicts.toSorted((a, b) => place(a) - place(b)),
		};
	}

	/** Goes to the next thing that happens. @returns false when nothing does any more */
	#step(): boolean {
		const due = firstDue(this.#state);
		const waits = nextCue(this.#state) !== null;
		const last = !waits && following(this.#state) === null;
		if (due && (due.at <= this.#pressAt || (!waits && !last))) {
			this.#judge(due.at);
			this.#now = Math.max(this.#now, due.at);
			const { count, turn } = this.#state.live.progress;
			this.#do({ type: 'fallDue', dueId: due.id });
			const { progress } = this.#state.live;
			if (progress.count !== count) this.#begin('itself');
			else if (progress.turn !== turn) this.#note('turn');
			else if (this.#pressAt === Infinity && following(this.#state) === null) this.#waitForPress();
			return true;
		}
		this.#judge(this.#pressAt);
		this.#now = Math.max(this.#now, this.#pressAt);
		if (!waits) return false;
		const { count } = this.#state.live.progress;
		this.#do({ type: 'go' });
		if (this.#state.live.progress.count === count) return false;
		this.#begin('go');
		return true;
	}

	/** A cue has begun: notes it, and when it will be over. */
	#begin(by: 'go' | 'itself'): void {
		const cue = currentCue(this.#state)!;
		this.#note(by);
		this.#checkFollow(cue);
		this.#checkPlan(cue);
		const comes = following(this.#state);
		this.#pressAt = comes?.is === 'over' ? Infinity : this.#overAt(cue);
	}

	/** What should have followed by itself does so no more: its clip was left, and is stopped after the transition. */
	#waitForPress(): void {
		const { since, held } = this.#state.live.progress;
		if (!held) this.#checkFollow(currentCue(this.#state)!);
		this.#pressAt = Math.max(this.#now, since + SHORTEST_MS);
	}

	/** When somebody presses Go in a cue that does not end by itself. */
	#overAt(cue: Cue): number {
		const next = nextCue(this.#state);
		const length = lengthOf(this.#state, cue);
		if (length !== null) return this.#now + Math.max(SHORTEST_MS, length);
		const planned = next && next.plannedAt !== '' ? timeOfEvening(this.#state, next.plannedAt, this.#now) : null;
		return planned !== null && planned > this.#now + SHORTEST_MS ? planned : this.#now + UNKNOWN_LENGTH_MS;
	}

	#note(by: DryStep['by']): void {
		const { setup, live } = this.#state;
		this.#steps.push({
			at: this.#now,
			cueId: live.progress.current!,
			by,
			sceneId: live.program,
			overlayIds: setup.overlays
				.filter((overlay) => isShown(overlay, live.shown[overlay.id], this.#now))
				.map(({ id }) => id),
			clipIds: this.#playing(this.#now).map(({ id }) => id),
		});
	}

	/** It ends by itself, says the cue: does anything let it? */
	#checkFollow({ id: cueId, follow }: Cue): void {
		if (follow.by === 'go' || follow.by === 'rotation' || following(this.#state)) return;
		const clip = follow.by === 'clip' ? clipOf(this.#state.setup, follow.sourceId) : null;
		// That its clip is gone has been said.
		if (follow.by === 'clip' && !clip) return;
		const why =
			follow.by === 'clock' ? (follow.time === '' ? 'noTime' : 'timePassed') : clip?.repeats ? 'repeats' : 'notPlayed';
		this.#conflicts.push({ cueId, is: 'neverOver', why });
	}

	#checkPlan({ id: cueId, plannedAt }: Cue): void {
		if (plannedAt === '') return;
		const ms = this.#now - timeOfEvening(this.#state, plannedAt, this.#now);
		if (ms > SHORTEST_MS) this.#conflicts.push({ cueId, is: 'late', ms });
	}

	#checkEnd(): void {
		const { overAt } = this.#state.setup;
		if (overAt === '' || this.#steps.length === 0) return;
		const ms = this.#now - timeOfEvening(this.#state, overAt, this.#now);
		if (ms > 0) this.#conflicts.push({ cueId: null, is: 'tooLong', ms });
	}

	/** What is heard and seen at once for a while, before the next thing happens. */
	#judge(until: number): void {
		const cueId = this.#state.live.progress.current;
		if (cueId === null || until - this.#now < PASSING_MS) return;
		const at = this.#now + PASSING_MS - 1;
		const { setup, live } = this.#state;
		const heard = this.#playing(at).filter(({ id }) => this.#isHeard(id));
		const named = setup.overlays.filter(
			(overlay) => overlay.kind === 'lowerThird' && isShown(overlay, live.shown[overlay.id], at),
		);
		// Each side has room for one.
		const [left, right] = (['left', 'right'] as const).map((side) =>
			named.filter((overlay) => overlay.kind === 'lowerThird' && overlay.side === side),
		);
		for (const [is, list] of [
			['twoHeard', heard],
			['twoNamed', left!],
			['twoNamed', right!],
		] as const) {
			const [one, other] = list;
			const isSaid = this.#conflicts.some((each) => each.cueId === cueId && each.is === is);
			if (one && other && !isSaid) this.#conflicts.push({ cueId, is, name: one.name, other: other.name });
		}
	}

	#playing(at: number) {
		return this.#state.setup.sources.filter(isClip).filter((clip) => standingOf(this.#state, clip, at).playing);
	}

	#isHeard(sourceId: string): boolean {
		return this.#state.setup.channels.some(
			(channel) =>
				channel.sourceId === sourceId &&
				!channel.muted &&
				(channel.follow === 'always' ||
					(channel.follow === 'onAir' && isInProgram(this.#state, channel.followed ?? sourceId))),
		);
	}

	#do(command: Command): void {
		const outcome = tryReduce(this.#state, command, this.#now);
		if ('state' in outcome) this.#state = outcome.state;
		// What is due and cannot be done would be due for ever.
		else if (command.type === 'fallDue')
			this.#state = withLive(this.#state, {
				due: this.#state.live.due.filter(({ id }) => id !== command.dueId),
			});
	}
}

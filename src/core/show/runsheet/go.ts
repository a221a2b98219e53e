/** Does a cue: its scene, clips, overlays and mix, at one moment. What is not there any more is left out. */
import { clipHandlers } from '../clips/commands.ts';
import { withDue, withoutDue } from '../due.ts';
import { mixHandlers } from '../mix/commands.ts';
import { overlayHandlers } from '../overlays/commands.ts';
import { Refusal } from '../../refusal.ts';
import { sourceHandlers } from '../sources/commands.ts';
import { withLive, type Change } from '../slice.ts';
import { isOnAir, type ShowState } from '../state.ts';
import { take } from '../takes/commands.ts';
import { wordsHandlers } from '../words/commands.ts';
import { isWordsShown } from '../words/standing.ts';
import type { Cue, Progress } from './cue.ts';
import { currentCue, following, nextCue } from './order.ts';
import { plannedTimes } from './plan.ts';

const FOLLOW_DUE = 'follow-';

/** True for the id of the entry under `live.due` for what happens in the current cue by itself. */
export function isFollowDue(id: string): boolean {
	return id.startsWith(FOLLOW_DUE);
}

/** Names one doing of a cue and one turn of it: what is said of one never counts for the next. */
function followId({ count, turn }: Progress): string {
	return `${FOLLOW_DUE}${count}-${turn}`;
}

function withoutFollow(state: ShowState): ShowState {
	return state.live.due.filter(({ id }) => isFollowDue(id)).reduce((now, { id }) => withoutDue(now, id), state);
}

const MOST_DONE = 1000;

type Step = (state: ShowState) => Change;

/** Everything a cue does, in order. */
function stepsOf(cue: Cue, at: number): Step[] {
	const { sceneId, transition, plays, shows, hides, mix, words } = cue;
	return [
		...hides.map(
			(overlayId): Step =>
				(now) =>
					overlayHandlers.hideOverlay(now, { type: 'hideOverlay', overlayId }, at),
		),
		...(sceneId === null ? [] : [(now: ShowState) => take(now, sceneId, transition ?? undefined, at)]),
		...plays.map(
			(sourceId): Step =>
				(now) =>
					play(now, sourceId, at),
		),
		...shows.map(
			(each): Step =>
				(now) =>
					overlayHandlers.showOverlay(now, { type: 'showOverlay', ...each }, at),
		),
		...(mix ? mixSteps(mix, at) : []),
		...(words ? wordsSteps(words, at) : []),
	];
}

/** Plays a clip from its beginning, or starts a countdown or a stopwatch. */
function play(state: ShowState, sourceId: string, at: number): Change {
	const source = state.setup.sources.find(({ id }) => id === sourceId);
	if (source?.kind !== 'clock' || !('startedAt' in source.clock))
		return clipHandlers.playClip(state, { type: 'playClip', sourceId, fromStart: true }, at);
	const started = { ...source, clock: { ...source.clock, startedAt: at } };
	return sourceHandlers.changeSource(state, { type: 'changeSource', source: started }, at);
}

function mixSteps({ snapshotId, fadeMs, mute, unmute }: NonNullable<Cue['mix']>, at: number): Step[] {
	const muting =
		(muted: boolean) =>
		(channelId: string): Step =>
		(now) =>
			mixHandlers.setMute(now, { type: 'setMute', channelId, muted }, at);
	return [
		...(snapshotId === null
			? []
			: [(now: ShowState) => mixHandlers.recallSnapshot(now, { type: 'recallSnapshot', snapshotId, fadeMs }, at)]),
		...mute.map(muting(true)),
		...unmute.map(muting(false)),
	];
}

/** Brings the first line of a song, in the hall and for viewers; or puts all words away. */
function wordsSteps({ itemId }: NonNullable<Cue['words']>, at: number): Step[] {
	const overlays = (now: ShowState) => now.setup.overlays.filter(({ kind }) => kind === 'words').map(({ id }) => id);
	if (itemId === null)
		return [
			(now) => wordsHandlers.clearWords(now, { type: 'clearWords' }, at),
			(now) =>
				eachOf(now, overlays(now), (state, overlayId) =>
					overlayHandlers.hideOverlay(state, { type: 'hideOverlay', overlayId }, at),
				),
		];
	return [
		(now) => wordsHandlers.showWords(now, { type: 'showWords', itemId, step: 0 }, at),
		(now) => wordsHandlers.setHall(now, { type: 'setHall', hall: { ...now.live.hall, words: true } }, at),
		// Of several overlays that show words the first is meant.
		(now) =>
			eachOf(now, isWordsShown(now) ? [] : overlays(now).slice(0, 1), (state, overlayId) =>
				overlayHandlers.showOverlay(state, { type: 'showOverlay', overlayId }, at),
			),
	];
}

function eachOf(state: ShowState, ids: readonly string[], change: (state: ShowState, id: string) => Change): Change {
	return { state: ids.reduce((now, id) => change(now, id).state, state), inverse: [] };
}

/** One thing that is missing keeps nothing else from being done. */
function doStep(state: ShowState, step: Step): ShowState {
	try {
		return step(state).state;
	} catch (error) {
		if (error instanceof Refusal) return state;
		throw error;
	}
}

/** Does a cue and puts what comes after it in Next. */
export function doCue(state: ShowState, cue: Cue, at: number): ShowState {
	const plannedAt = plannedTimes(state).get(cue.id)?.at ?? null;
	const { progress } = state.live;
	const done = [...progress.done, { cueId: cue.id, name: cue.name, plannedAt, startedAt: at }].slice(-MOST_DONE);
	let now = stepsOf(cue, at).reduce(doStep, state);
	now = withProgress(now, {
		current: cue.id,
		since: at,
		count: progress.count + 1,
		chosen: null,
		held: false,
		turn: 0,
		done,
	});
	return prepareNext(now);
}

/** Puts the scene of the coming cue in Next, where one sees it and its clip gets ready. */
export function prepareNext(state: ShowState): ShowState {
	const sceneId = nextCue(state)?.sceneId ?? null;
	const isThere = state.setup.scenes.some(({ id }) => id === sceneId);
	if (!isThere || sceneId === state.live.program || state.live.lever > 0) return state;
	return withLive(state, { next: sceneId });
}

/** What happens by itself when its time has come: the cue is over, or a scene of the rotation has its turn. */
export function followOn(state: ShowState, at: number): ShowState {
	const cue = currentCue(state);
	if (!cue) return state;
	if (cue.follow.by === 'rotation') return takeTurn(state, cue, at);
	if (cue.endsBroadcast && isOnAir(state))
		return withoutFollow(withLive(state, { broadcast: { ...state.live.broadcast!, endedAt: at } }));
	const next = nextCue(state);
	return next ? doCue(state, next, at) : withProgress(state, { held: true });
}

function takeTurn(state: ShowState, cue: Cue, at: number): ShowState {
	if (cue.follow.by !== 'rotation') return state;
	const { sceneIds } = cue.follow;
	const turn = state.live.progress.turn + 1;
	const first = cue.sceneId === sceneIds[0] || cue.sceneId === null ? 0 : -1;
	const sceneId = sceneIds[(turn + first + sceneIds.length) % sceneIds.length]!;
	const next = state.live.next;
	const taken = doStep(state, (now) => take(now, sceneId, cue.transition ?? undefined, at));
	// What was prepared by hand, or for the coming cue, stays there.
	const kept = next !== sceneId && taken.setup.scenes.some(({ id }) => id === next) ? next : taken.live.next;
	return withProgress(withLive(taken, { next: kept }), { turn });
}

export function withProgress(state: ShowState, part: Partial<Progress>): ShowState {
	return withLive(state, { progress: { ...state.live.progress, ...part } });
}

/** Keeps the entry for what happens by itself in line with cue, clip and clock. */
export function armFollow(state: ShowState): ShowState {
	const next = following(state);
	if (!next) return withoutFollow(state);
	const { count, turn } = state.live.progress;
	const id = followId(state.live.progress);
	if (state.live.due.find((known) => known.id === id)?.at === next.at) return state;
	return withDue(withoutFollow(state), id, next.at, [{ type: 'followOn', count, turn }]);
}

/** Scenes that take turns stop when somebody takes another one by hand. */
export function holdRotation(before: ShowState, state: ShowState, { type }: { type: string }): ShowState {
	const isByHand = type === 'take' || type === 'takeBack' || type === 'callBack' || type === 'setLever';
	if (!isByHand || before.live.program === state.live.program) return state;
	return currentCue(state)?.follow.by === 'rotation' ? withProgress(state, { held: true }) : state;
}

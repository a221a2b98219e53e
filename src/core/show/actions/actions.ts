/**
 * The registry of everything that one press can do in an event. Keys, buttons, panels, macros, control surfaces and the HTTP
 * interface read it; nothing of it is said twice. An action is a question to the show: which command does that, as things
 * stand, and how does its button look.
 */
import { batchOf, type PageCommand, type SingleCommand } from '../command.ts';
import { holdingScene } from '../delivery/delivery.ts';
import { withFields } from '../event/fields.ts';
import { isClip, standingOf } from '../clips/source.ts';
import { canTakeBack, isJustBegun, macroOf, runOf } from '../macros/runs.ts';
import { GROUPS, type Group } from '../mix/mix.ts';
import { isShown } from '../overlays/overlay.ts';
import { following, isDoable, nextCue, previousCue } from '../runsheet/order.ts';
import { isOnAir, type ShowState } from '../state.ts';
import { wordsShownCommand } from '../words/shown.ts';
import { comingStep, isWordsShown, onStream } from '../words/standing.ts';
import type { ActionId, Order } from './order.ts';

/** How a button stands. */
export type ButtonState =
	/** In the program. */
	| 'program'
	| 'next'
	/** It comes by itself. */
	| 'armed'
	/** What it switches is on. */
	| 'on'
	/** Something goes on by itself. */
	| 'running'
	| 'muted'
	| 'plain'
	/** A press would do nothing now. */
	| 'idle'
	/** What it is about is not there any more. */
	| 'gone';

/** Who presses, and when. */
export interface Press {
	/** Milliseconds since 1970, by the server's clock. */
	at: number;
	/** How the page calls itself, in messages of the crew. */
	from: string;
	/** A new id, for what a press makes. */
	newId: string;
}

export interface Action {
	/** Commands that it may come to: who may send all of them may press it. */
	types: readonly SingleCommand['type'][];
	/** What a press does as things stand; null when there is nothing to do. */
	command(show: ShowState, order: Order, press: Press): PageCommand | null;
	/** What it does when it is let go, for what lasts while it is held. */
	release?(show: ShowState, order: Order): PageCommand | null;
	stand?(show: ShowState, order: Order, at: number): ButtonState;
	/** What it is about, by name; null when it is gone. */
	subject?(show: ShowState, order: Order): string | null;
}

const named = (list: readonly { id: string; name: string }[], id: string | undefined) =>
	list.find((each) => each.id === id)?.name ?? null;
/** Which way a switch is thrown; null when it is there already. */
const thrown = (isOn: boolean, { to }: Order): boolean | null => {
	const wanted = to === undefined ? !isOn : to === 'on';
	return wanted === isOn && to !== undefined ? null : wanted;
};
const onOr = (isOn: boolean): ButtonState => (isOn ? 'on' : 'plain');
const possible = (isPossible: boolean): ButtonState => (isPossible ? 'plain' : 'idle');

const sceneSubject: Action['subject'] = ({ setup }, { of }) => named(setup.scenes, of);
const sceneStand = ({ live }: ShowState, { of }: Order): ButtonState =>
	of === live.program ? 'program' : of === live.next ? 'next' : 'plain';
/** True when the current cue ends without a press. */
const comesByItself = (show: ShowState) => nextCue(show) !== null && following(show)?.is === 'over';
const cueSubject: Action['subject'] = ({ setup }, { of }) => named(setup.cues, of);
const cueStand = (show: ShowState, { of }: Order): ButtonState => {
	const cue = show.setup.cues.find(({ id }) => id === of);
	if (of === show.live.progress.current) return 'running';
	if (of === nextCue(show)?.id) return comesByItself(show) ? 'armed' : 'next';
	return possible(cue !== undefined && isDoable(cue));
};
const clipOf = ({ setup }: ShowState, id: string | undefined) =>
	setup.sources.filter(isClip).find((each) => each.id === id);
const clipSubject: Action['subject'] = (show, { of }) => clipOf(show, of)?.name ?? null;
/** The lower third that names people. */
export const lowerThirdOf = ({ setup }: Pick<ShowState, 'setup'>) =>
	setup.overlays.find((overlay) => overlay.kind === 'lowerThird');
const isOverlayOn = ({ setup, live }: ShowState, id: string | undefined, at: number) => {
	const overlay = setup.overlays.find((each) => each.id === id);
	return overlay !== undefined && isShown(overlay, live.shown[overlay.id], at);
};
const groupOf = ({ of }: Order): Group | null => GROUPS.find((group) => group === of) ?? null;

export const SHOW_ACTIONS: { readonly [A in ActionId]: Action } = {
	go: {
		types: ['go'],
		command: (show, _, { at }) =>
			nextCue(show) && {
				type: 'go',
				count: show.live.progress.count,
				afterMs: Math.max(0, at - show.live.progress.since),
			},
		stand: (show) => (comesByItself(show) ? 'armed' : possible(nextCue(show) !== null)),
		subject: (show) => nextCue(show)?.name ?? '',
	},
	'go-back': {
		types: ['goBack'],
		command: (show) => previousCue(show) && { type: 'goBack' },
		stand: (show) => possible(previousCue(show) !== null),
	},
	'hold-cue': {
		types: ['holdCue'],
		command(show, order) {
			const held = thrown(show.live.progress.held, order);
			return held === null ? null : { type: 'holdCue', held };
		},
		stand: (show) => (show.live.progress.held ? 'on' : possible(following(show) !== null)),
	},
	'choose-cue': {
		types: ['chooseCue'],
		command: (_, { of }) => ({ type: 'chooseCue', cueId: of! }),
		stand: cueStand,
		subject: cueSubject,
	},
	'do-cue': {
		types: ['chooseCue', 'go'],
		command: (_, { of }) => batchOf([{ type: 'chooseCue', cueId: of! }, { type: 'go' }]),
		stand: cueStand,
		subject: cueSubject,
	},
	take: {
		types: ['take'],
		command: ({ live }) => (live.next === null ? null : { type: 'take' }),
		stand: ({ live }) => possible(live.next !== null),
		subject: ({ setup, live }) => named(setup.scenes, live.next ?? undefined) ?? '',
	},
	'take-scene': {
		types: ['take'],
		command: (_, { of }) => ({ type: 'take', sceneId: of! }),
		stand: sceneStand,
		subject: sceneSubject,
	},
	'next-scene': {
		types: ['setNext'],
		command: (_, { of }) => ({ type: 'setNext', sceneId: of! }),
		stand: sceneStand,
		subject: sceneSubject,
	},
	'choose-scene': {
		types: ['take', 'setNext'],
		command: ({ setup }, { of }) => (setup.direct ? { type: 'take', sceneId: of! } : { type: 'setNext', sceneId: of! }),
		stand: sceneStand,
		subject: sceneSubject,
	},
	'previous-scene': {
		types: ['takeBack'],
		command: ({ live }) => (live.previous === null ? null : { type: 'takeBack' }),
		stand: ({ live }) => possible(live.previous !== null),
		subject: ({ setup, live }) => named(setup.scenes, live.previous ?? undefined) ?? '',
	},
	'call-back': {
		types: ['callBack'],
		command: ({ live }) => (live.take.from === null || live.take.calledBack ? null : { type: 'callBack' }),
		stand: ({ live }) => possible(live.take.from !== null && !live.take.calledBack),
	},
	'holding-card': {
		types: ['take'],
		command(show) {
			const scene = holdingScene(show.setup);
			return scene && scene.id !== show.live.program ? { type: 'take', sceneId: scene.id } : null;
		},
		stand(show) {
			const scene = holdingScene(show.setup);
			return scene === null ? 'gone' : scene.id === show.live.program ? 'program' : 'plain';
		},
		subject: ({ setup }) => holdingScene(setup)?.name ?? null,
	},
	black: {
		types: ['setBlack'],
		command({ live }, order) {
			const black = thrown(live.black, order);
			return black === null ? null : { type: 'setBlack', black };
		},
		stand: ({ live }) => onOr(live.black),
	},
	direct: {
		types: ['setDirect'],
		command({ setup }, order) {
			const direct = thrown(setup.direct, order);
			return direct === null ? null : { type: 'setDirect', direct };
		},
		stand: ({ setup }) => onOr(setup.direct),
	},
	overlay: {
		types: ['showOverlay', 'hideOverlay'],
		command(show, order, { at }) {
			const isOn = thrown(isOverlayOn(show, order.of, at), order);
			return isOn === null ? null : { type: isOn ? 'showOverlay' : 'hideOverlay', overlayId: order.of! };
		},
		stand: (show, { of }, at) => onOr(isOverlayOn(show, of, at)),
		subject: ({ setup }, { of }) => named(setup.overlays, of),
	},
	name: {
		types: ['showOverlay', 'hideOverlay'],
		command(show, order, { at }) {
			const overlay = lowerThirdOf(show);
			if (!overlay) return null;
			const isOn = thrown(isNamed(show, order.of, at), order);
			if (isOn === null) return null;
			const { id: overlayId } = overlay;
			return isOn ? { type: 'showOverlay', overlayId, personId: order.of! } : { type: 'hideOverlay', overlayId };
		},
		stand: (show, { of }, at) => (lowerThirdOf(show) ? onOr(isNamed(show, of, at)) : 'idle'),
		subject: ({ setup }, { of }) => named(withFields(setup).people, of),
	},
	words: {
		types: ['showOverlay', 'hideOverlay'],
		command(show, order) {
			const isOn = thrown(isWordsShown(show), order);
			return isOn === null ? null : wordsShownCommand(show, isOn);
		},
		stand: (show) => (isWordsShown(show) ? 'on' : possible(show.setup.overlays.some(({ kind }) => kind === 'words'))),
	},
	'next-line': {
		types: ['nextLine'],
		command: (show) => (comingStep(show) === null && onStream(show) === null ? null : { type: 'nextLine' }),
		stand: (show) => possible(comingStep(show) !== null || onStream(show) !== null),
		subject: (show) => comingStep(show)?.step.rows[0]?.text ?? '',
	},
	'previous-line': {
		types: ['previousLine'],
		command: (show) => (isBegun(show) ? { type: 'previousLine' } : null),
		stand: (show) => possible(isBegun(show)),
	},
	song: {
		types: ['showWords'],
		command: (_, { of }) => ({ type: 'showWords', itemId: of!, step: 0 }),
		stand: ({ live }, { of }) => onOr(live.words.itemId === of),
		subject: ({ setup }, { of }) => setup.words.items.find(({ id }) => id === of)?.song.title ?? null,
	},
	'hall-words': {
		types: ['setHall'],
		command({ live: { hall } }, order) {
			const words = thrown(hall.words, order);
			return words === null ? null : { type: 'setHall', hall: { ...hall, words } };
		},
		stand: ({ live }) => onOr(live.hall.words),
	},
	mute: {
		types: ['setMute'],
		command({ setup }, order) {
			const channel = setup.channels.find(({ id }) => id === order.of);
			const muted = channel ? thrown(channel.muted, order) : null;
			return muted === null ? null : { type: 'setMute', channelId: order.of!, muted };
		},
		stand: ({ setup }, { of }) => (setup.channels.find(({ id }) => id === of)?.muted ? 'muted' : 'plain'),
		subject: ({ setup }, { of }) => named(setup.channels, of),
	},
	speak: {
		types: ['pressChannel'],
		command: (_, { of }) => ({ type: 'pressChannel', channelId: of!, pressed: true }),
		release: (_, { of }) => ({ type: 'pressChannel', channelId: of!, pressed: false }),
		stand: ({ live }, { of }) => onOr(live.pressed.includes(of!)),
		subject: ({ setup }, { of }) => named(setup.channels, of),
	},
	'mute-group': {
		types: ['setGroupMute'],
		command({ setup }, order) {
			const group = groupOf(order);
			const muted = group && thrown(setup.mix.groups[group].muted, order);
			return group === null || muted === null ? null : { type: 'setGroupMute', group, muted };
		},
		stand({ setup }, order) {
			const group = groupOf(order);
			return group && setup.mix.groups[group].muted ? 'muted' : 'plain';
		},
		subject: (_, order) => groupOf(order),
	},
	snapshot: {
		types: ['recallSnapshot'],
		command: (_, { of }) => ({ type: 'recallSnapshot', snapshotId: of!, fadeMs: SNAPSHOT_MS }),
		subject: ({ setup }, { of }) => named(setup.mix.snapshots, of),
	},
	hush: {
		types: ['setHush'],
		command({ live }, order) {
			const hushed = thrown(live.hushed, order);
			return hushed === null ? null : { type: 'setHush', hushed };
		},
		stand: ({ live }) => (live.hushed ? 'muted' : 'plain'),
	},
	clip: {
		types: ['playClip', 'pauseClip'],
		command(show, order, { at }) {
			const clip = clipOf(show, order.of);
			const plays = clip ? thrown(standingOf(show, clip, at).playing, order) : null;
			return plays === null ? null : { type: plays ? 'playClip' : 'pauseClip', sourceId: order.of! };
		},
		stand(show, { of }, at) {
			const clip = clipOf(show, of);
			return clip && standingOf(show, clip, at).playing ? 'running' : 'plain';
		},
		subject: clipSubject,
	},
	'rewind-clip': {
		types: ['rewindClip'],
		command: (_, { of }) => ({ type: 'rewindClip', sourceId: of! }),
		subject: clipSubject,
	},
	'stop-clips': {
		types: ['pauseClip'],
		command(show, _, { at }) {
			const playing = playingClips(show, at);
			return playing.length === 0 ? null : batchOf(playing.map((sourceId) => ({ type: 'pauseClip', sourceId })));
		},
		stand: (show, _, at) => (playingClips(show, at).length > 0 ? 'running' : 'idle'),
	},
	marker: {
		types: ['addMarker'],
		command: (show, { text }) => (isOnAir(show) ? { type: 'addMarker', text: text! } : null),
		stand: (show) => possible(isOnAir(show)),
	},
	crew: {
		types: ['sendCrew'],
		command: (_, { text }, { from, newId }) => ({
			type: 'sendCrew',
			messageId: newId,
			text: text!,
			to: { is: 'all' },
			from,
		}),
	},
	'viewer-chat': {
		types: ['postToViewers'],
		command: (show, { text }) => (isOnAir(show) ? { type: 'postToViewers', text: text! } : null),
		stand: (show) => possible(isOnAir(show)),
	},
	macro: {
		types: ['runMacro'],
		command: (_, { of }) => ({ type: 'runMacro', macroId: of! }),
		stand({ setup, live }, { of }, at) {
			const run = runOf({ live }, of!);
			if (!run) return 'plain';
			if (run.isWaiting || isJustBegun(run, at)) return 'running';
			return onOr(canTakeBack({ setup }, run));
		},
		subject: ({ setup }, { of }) => macroOf(setup, of!)?.name ?? null,
	},
};

/** How long a mix takes that is called up by a press, milliseconds. */
const SNAPSHOT_MS = 1000;

function isNamed(show: ShowState, personId: string | undefined, at: number): boolean {
	const overlay = lowerThirdOf(show);
	return overlay?.kind === 'lowerThird' && overlay.personId === personId && isOverlayOn(show, overlay.id, at);
}

function isBegun({ live }: ShowState): boolean {
	return live.words.itemId !== null && live.words.step >= 0;
}

function playingClips(show: ShowState, at: number): string[] {
	return show.setup.sources
		.filter(isClip)
		.filter((clip) => standingOf(show, clip, at).playing)
		.map(({ id }) => id);
}

/** What a press of an order does as things stand; null when there is nothing to do. */
export function commandOf(show: ShowState, order: Order, press: Press): PageCommand | null {
	if (subjectOf(show, order) === null) return null;
	return SHOW_ACTIONS[order.action].command(show, order, press);
}

/** The name of what an order is about, '' for nothing in particular; null when that is gone. */
export function subjectOf(show: ShowState, order: Order): string | null {
	const { subject } = SHOW_ACTIONS[order.action];
	return subject ? subject(show, order) : '';
}

/** How the button of an order stands. @param at milliseconds since 1970, by the server's clock */
export function standOf(show: ShowState, order: Order, at: number): ButtonState {
	if (subjectOf(show, order) === null) return 'gone';
	return SHOW_ACTIONS[order.action].stand?.(show, order, at) ?? 'plain';
}

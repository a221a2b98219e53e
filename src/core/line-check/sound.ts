/** Sound: every channel heard since the doors opened, neither soft nor harsh, without hum; the right microphones; lips. */
import { kindOf, type Source } from '../show/sources/source.ts';
import type { ChannelFact } from './facts.ts';
import { isFresh, WATCHED_MS, type Add, type Known } from './known.ts';

type Channel = Known['show']['setup']['channels'][number];

/** Levels between which somebody is heard well, dB relative to full scale. */
const SOFT_DB = -36;
const LOUD_DB = -1;
/** A channel put to one side by more than this is there on purpose. */
const ON_ONE_SIDE = 0.5;
/** Names of microphones that are built into a computer or a camera. */
const BUILT_IN = /built[- ]?in|internal|webcam|eingebaut|intern|intégré|monitor|^default$/iu;
/** Names of what brings several microphones at once. */
const CONSOLE = /console|mixer|mixing|interface|usb audio|line in|pult/iu;
/** More inputs than a microphone has. */
const CONSOLE_INPUTS = 2;

export function checkSound({ show, facts, now }: Known, add: Add): void {
	const { channels, sources, mix } = show.setup;
	const heard = channels.filter(({ follow }) => follow !== 'off');
	if (heard.length === 0) add('none', 'wrong', { is: 'noSound' }, { mend: { does: 'addSource' } });
	for (const channel of heard) {
		const source = sources.find(({ id }) => id === channel.sourceId);
		// Clips and guests are heard when they come.
		if (!source || kindOf(source).brings.sound === 'never' || isLater(source)) continue;
		checkChannel(channel, facts.channels[channel.id], now, add);
	}
	checkMicrophones(channels, sources, facts.look?.inputs ?? [], add);
	checkLips(show.setup, facts.lips, add);
	const { look } = facts;
	const integrated = isFresh(look?.at, now) ? look!.integrated : null;
	const off = integrated === null ? 0 : Math.abs(integrated - mix.master.targetLufs);
	const state = integrated === null ? 'unseen' : off > 3 ? 'weak' : 'good';
	const what = { is: 'loudness', integrated, targetLufs: mix.master.targetLufs } as const;
	if (heard.length > 0) add('loudness', state, what, { at: look?.at ?? null, mend: { does: 'open', page: 'mix' } });
}

const isLater = ({ kind }: Source) => kind === 'clip' || kind === 'soundClip' || kind === 'seat';

function checkChannel(channel: Channel, fact: ChannelFact | undefined, now: number, add: Add): void {
	const { id, name, inputs, strip } = channel;
	const mend = { does: 'editChannel', channelId: id } as const;
	if (!fact || !isFresh(fact.at, now, WATCHED_MS))
		return add(id, 'unseen', { is: 'channel', name, levelDb: -120 }, { mend: { does: 'look' } });
	const { at, peakDb, heardAt, faults } = fact;
	// A microphone alone has no sides; what is put to one side on purpose is on one side.
	const hasSides = inputs.length === 2 && Math.abs(strip.pan) < ON_ONE_SIDE;
	const lasting = faults.filter((fault) => fault !== 'silent' && fault !== 'idle' && (hasSides || !isOfSides(fault)));
	for (const fault of lasting) add(`${id} ${fault}`, 'weak', { is: 'channelFault', name, fault }, { at, mend });
	if (!isFresh(heardAt, now)) return add(id, 'unseen', { is: 'channelSilent', name }, { at, mend });
	if (lasting.length > 0) return;
	if (peakDb > LOUD_DB) return add(id, 'weak', { is: 'channelLoud', name, levelDb: peakDb }, { at, mend });
	if (peakDb < SOFT_DB) return add(id, 'weak', { is: 'channelSoft', name, levelDb: peakDb }, { at, mend });
	add(id, 'good', { is: 'channel', name, levelDb: peakDb }, { at: heardAt });
}

const isOfSides = (fault: string) => fault === 'oneSide' || fault === 'outOfPhase';

/** A computer's own microphone hears its fan; whoever has a console means that. */
function checkMicrophones(
	channels: readonly Channel[],
	sources: readonly Source[],
	inputs: readonly string[],
	add: Add,
): void {
	const used = sources.filter((source) => channels.some(({ sourceId, muted }) => sourceId === source.id && !muted));
	const console = consoleOf(channels, used) ?? inputs.find((label) => CONSOLE.test(label)) ?? null;
	if (console === null) return;
	for (const source of used) {
		const label = 'label' in source ? source.label : '';
		if (source.kind !== 'microphone' || !BUILT_IN.test(label) || label === console) continue;
		const mend = { does: 'editSource', sourceId: source.id } as const;
		add(`${source.id} own`, 'weak', { is: 'ownMicrophone', name: source.name, console }, { mend });
	}
}

/** Name of the source of which more inputs are used than a microphone has. */
function consoleOf(channels: readonly Channel[], sources: readonly Source[]): string | null {
	for (const { id, name } of sources) {
		const used = new Set(channels.filter(({ sourceId }) => sourceId === id).flatMap(({ inputs }) => inputs));
		if (used.size > CONSOLE_INPUTS) return name;
	}
	return null;
}

/** Sound that comes another way than its picture is as late as somebody has measured. */
function checkLips(
	{ channels, sources }: Known['show']['setup'],
	lips: Readonly<Record<string, number>>,
	add: Add,
): void {
	if (!sources.some((source) => kindOf(source).isLive && kindOf(source).showsLips && source.kind !== 'seat')) return;
	for (const { id, name, group, sourceId, muted, follow } of channels) {
		const source = sources.find((each) => each.id === sourceId);
		const isApart = source !== undefined && !kindOf(source).brings.picture && !isLater(source);
		if (group !== 'speech' || !isApart || muted || follow === 'off') continue;
		const at = lips[id] ?? null;
		const mend = { does: 'editChannel', channelId: id } as const;
		add(`${id} lips`, at === null ? 'unseen' : 'good', { is: 'lips', name, measured: at !== null }, { at, mend });
	}
}

/** Brings a file of the library into an event: as a clip with a scene of its own and a channel that follows its picture. */
import type { SingleCommand } from '../show/command.ts';
import { plainClip, type ClipItem } from '../show/clips/clip.ts';
import { plainChannel, type Channel } from '../show/mix/mix.ts';
import { plainScene, wholeLayer } from '../show/scenes/scene.ts';
import { plainSource, type SourceOf } from '../show/sources/source.ts';
import type { Media } from './media.ts';

/** Level of a music bed below its own, decibels. */
const BED_DB = -18;

/** Usual lead-out of a clip, milliseconds. */
const LEAD_OUT_MS = 4000;

/** A file as an item of a clip, with what the library has set for it. */
export function clipItemOf({ id, name, about, settings }: Pick<Media, 'id' | 'name' | 'about' | 'settings'>): ClipItem {
	const { lengthMs } = about;
	const inMs = Math.min(settings.inMs, Math.max(0, lengthMs - 1));
	const outMs = Math.max(inMs + 1, Math.min(lengthMs, settings.outMs ?? lengthMs));
	return { mediaId: id, name, lengthMs, inMs, outMs, gainDb: settings.gainDb };
}

/**
 * Commands that add a clip, or a reel of several files.
 * @param id of the source; those of its scene and its channel are made of it
 */
export function addingClip(id: string, name: string, files: readonly Media[]): SingleCommand[] {
	const [first] = files;
	if (!first) return [];
	const isSeen = files.some(({ about }) => about.picture !== null);
	const part = {
		...plainClip(files.map(clipItemOf)),
		repeats: first.settings.repeats,
		ends: first.settings.ends,
		leadOutMs: LEAD_OUT_MS,
		playsOnTake: isSeen,
	};
	const source = isSeen
		? plainSource(id, name, { kind: 'clip', ...part })
		: plainSource(id, name, { kind: 'soundClip', bed: false, ...part });
	const hasSound = files.some(({ about }) => about.sound !== null);
	const channel: Channel = { ...plainChannel(`${id}-channel`, id, name), follow: isSeen ? 'onAir' : 'always' };
	return [
		{ type: 'addSource', source },
		...(isSeen
			? [{ type: 'addScene' as const, scene: plainScene(`${id}-scene`, name, [wholeLayer(`${id}-layer`, id)]) }]
			: []),
		...(hasSound ? [{ type: 'addChannel' as const, channel }] : []),
	];
}

/** Commands that make a sound a music bed, which plays round and round under cards, quietly; or an ordinary sound again. */
export function makingBed(source: SourceOf<'soundClip'>, channels: readonly Channel[], bed: boolean): SingleCommand[] {
	const repeats = bed || source.repeats;
	return [
		{ type: 'changeSource', source: { ...source, bed, playsOnTake: bed, repeats } },
		...channels
			.filter(({ sourceId }) => sourceId === source.id)
			.flatMap((channel): SingleCommand[] => [
				{ type: 'changeChannel', channel: { ...channel, follow: bed ? 'onAir' : 'always' } },
				{ type: 'setFader', channelId: channel.id, gainDb: bed ? BED_DB : 0 },
			]),
	];
}

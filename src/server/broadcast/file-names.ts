/** File names of recordings: nothing that people typed is used as it is. */
import slugify from '@sindresorhus/slugify';
import type { ShowState } from '../../core/show/state.ts';
import { recordingId, type NewRecording } from '../files/recordings.ts';

const MOST_LETTERS = 60;

/**
 * The files of a broadcast: of the program, then of each track.
 * @param goesOn true for what follows other files of it, perhaps within the same second: names tell them apart, on any disk
 */
export function recordingRows(
	state: ShowState,
	broadcastId: string,
	startedAt: number,
	goesOn = false,
): NewRecording[] {
	const { eventId } = state;
	const { title } = state.setup;
	const { broadcast } = state.live;
	const id = recordingId(broadcastId, startedAt);
	const stem = fileNameOf(broadcast!.rehearsal ? `${title} rehearsal` : title, startedAt, goesOn);
	const common = { eventId, broadcastId, startedAt };
	const names = new Set(['program']);
	const tracks = broadcast!.tracks.map(({ kind, name }, i): NewRecording => {
		let what = plainName(name) || kind;
		while (names.has(what)) what += `-${i + 1}`;
		names.add(what);
		const file = `${stem}-${what}.${kind === 'source' ? 'mp4' : 'wav'}`;
		return { ...common, id: `${id}-${i + 1}`, kind, name, file };
	});
	return [{ ...common, id, kind: 'program', name: '', file: `${stem}-program.mp4` }, ...tracks];
}

/** A file name from what people typed, with date and time. @param finely to the millisecond */
export function fileNameOf(title: string, at: number, finely = false): string {
	const iso = new Date(at).toISOString().slice(0, finely ? 23 : 19);
	const time = iso.replaceAll(/[:.]/g, '').replace('T', '-');
	return `${plainName(title) || 'event'}-${time}`;
}

/** Letters, digits and dashes only; may be nothing. */
function plainName(text: string): string {
	return slugify(text, { decamelize: false }).slice(0, MOST_LETTERS).replace(/-$/, '');
}

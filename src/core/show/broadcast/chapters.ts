/** What is written about a broadcast for those who come after: chapters of its recording, and its as-run log. */

import type { LogKind } from './log.ts';

/** Something that happened, in words. */
export interface LogLine {
	/** Milliseconds since 1970. */
	at: number;
	kind: LogKind;
	text: string;
}

/** A moment of a recording, seconds from its start. */
export interface Marker {
	atS: number;
	kind: LogKind;
	text: string;
}

/** A take so soon after a cue was made by it. */
const TAKEN_WITH_MS = 100;

/**
 * The cues, takes and markers that lie within a recording. What was on air at its start is its first one. A scene that
 * was taken by a cue has the name of the cue.
 */
export function markersOf(lines: readonly LogLine[], startedAt: number, durationS: number): Marker[] {
	const cues = lines.filter(({ kind }) => kind === 'cue');
	const isOfCue = ({ at, kind }: LogLine) =>
		kind === 'take' && cues.some((cue) => at >= cue.at && at - cue.at < TAKEN_WITH_MS);
	const wanted = lines
		.filter((line) => ['take', 'cue', 'marker'].includes(line.kind) && !isOfCue(line))
		.toSorted((a, b) => a.at - b.at);
	const before = wanted.findLast(({ at, kind }) => kind !== 'marker' && at <= startedAt);
	const within = wanted.filter(({ at }) => at > startedAt && at < startedAt + durationS * 1000);
	return [...(before ? [{ ...before, at: startedAt }] : []), ...within].map(({ at, kind, text }) => ({
		atS: (at - startedAt) / 1000,
		kind,
		text,
	}));
}

/** Chapters of a recording: its cues and markers; its takes where no run sheet was used. */
export function chaptersOf(markers: readonly Marker[]): Marker[] {
	return markers.some(({ kind }) => kind === 'cue') ? markers.filter(({ kind }) => kind !== 'take') : [...markers];
}

/** WebVTT chapters (W3C WebVTT, section 2.4): each lasts until the next one. */
export function webVtt(markers: readonly Marker[], durationS: number): string {
	const cues = markers.map(({ atS, text }, i) => {
		const untilS = Math.max(atS + 0.001, markers[i + 1]?.atS ?? durationS);
		return `${timeOf(atS)} --> ${timeOf(untilS)}\n${oneLine(text)}\n`;
	});
	return ['WEBVTT\n', ...cues].join('\n');
}

/** hh:mm:ss.mmm */
function timeOf(seconds: number): string {
	const ms = Math.round(seconds * 1000);
	const two = (n: number) => String(Math.floor(n)).padStart(2, '0');
	return `${two(ms / 3_600_000)}:${two((ms / 60_000) % 60)}:${two((ms / 1000) % 60)}.${String(ms % 1000).padStart(3, '0')}`;
}

/** A cue ends with an empty line, an arrow would begin another, and tags would be taken for markup. */
function oneLine(text: string): string {
	return text.replace(/\s+/g, ' ').trim().replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');
}

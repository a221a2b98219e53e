/** How a broadcast went: figures measured every few seconds, and their summary. */
import { ABSOLUTE_GATE } from '../../sound/loudness.ts';

/** Interval between two measurements, milliseconds. */
export const FIGURES_EVERY_MS = 2000;

/** At one moment. */
export interface Figures {
	/** By destination: what it took, what waited for it, what it never got since its connection began. */
	destinations: {
		id: string;
		name: string;
		live: boolean;
		kbps: number;
		queueBytes: number;
		lostFrames: number;
		/** How many watched there, where that is told. */
		viewers?: number | null;
	}[];
	/** Planned and present rate of each rendition, kbit/s. */
	rates: { kbps: number; plannedKbps: number }[];
	/** Of the stream mix, LUFS: loudness of three seconds, and of all so far; null without a desk. */
	loudness: { shortTerm: number; integrated: number } | null;
	/** True while viewers saw the holding card. */
	held: boolean;
	/** Part of its time that the desk needs for pictures, and pictures due and encoded so far; null without a desk. */
	engine: { load: number; due: number; encoded: number } | null;
	/** Of each guest who was in: part of their packets that was lost, and how long their line takes there and back; null while that is not known. */
	guests?: { id: string; name: string; lost: number | null; roundTripMs: number | null }[];
	/** Processor load of the server: 1 is one core. */
	serverCores: number;
}

export interface FiguresAt extends Figures {
	/** Milliseconds since 1970. */
	at: number;
}

/** A line of a chart: points in seconds from the beginning of the broadcast. */
export interface Series {
	name: string;
	points: { x: number; y: number | null }[];
}

/** One line for each destination that was ever sent to. Where it was not live there is nothing. */
export function destinationSeries(
	list: readonly FiguresAt[],
	startedAt: number,
	value: 'kbps' | 'queueBytes' | 'lostFrames' | 'viewers',
): Series[] {
	const names = new Map(list.flatMap(({ destinations }) => destinations.map(({ id, name }) => [id, name])));
	return [...names].map(([id, name]) => ({
		name,
		points: list.map(({ at, destinations }) => {
			const found = destinations.find((each) => each.id === id);
			return { x: secondsFrom(startedAt, at), y: found?.live ? (found[value] ?? null) : null };
		}),
	}));
}

/** One line for each guest: the packets that their line lost, percent. Where they were not there, there is nothing. */
export function guestSeries(list: readonly FiguresAt[], startedAt: number): Series[] {
	const names = new Map(list.flatMap(({ guests = [] }) => guests.map(({ id, name }) => [id, name])));
	return [...names].map(([id, name]) => ({
		name,
		points: list.map(({ at, guests = [] }) => {
			const lost = guests.find((each) => each.id === id)?.lost ?? null;
			return { x: secondsFrom(startedAt, at), y: lost === null ? null : 100 * lost };
		}),
	}));
}

/**
 * LUFS over the broadcast; silence is nothing.
 * @param names of the two lines
 */
export function loudnessSeries(
	list: readonly FiguresAt[],
	startedAt: number,
	names: { shortTerm: string; integrated: string },
): Series[] {
	const line = (of: 'shortTerm' | 'integrated'): Series => ({
		name: names[of],
		points: list.map(({ at, loudness }) => {
			const y = loudness?.[of] ?? -Infinity;
			return { x: secondsFrom(startedAt, at), y: y > ABSOLUTE_GATE ? y : null };
		}),
	});
	return [line('shortTerm'), line('integrated')];
}

function secondsFrom(startedAt: number, at: number): number {
	return Math.max(0, (at - startedAt) / 1000);
}

export interface Summary {
	lastsS: number;
	destinations: {
		name: string;
		/** Seconds in which it took the stream. */
		liveS: number;
		meanKbps: number;
		lostFrames: number;
	}[];
	heldS: number;
	/** Integrated loudness at the end, LUFS, or null. */
	loudness: number | null;
}

/** Summary of the figures. Each stands for the time until the next one. */
export function summarise(list: readonly FiguresAt[], startedAt: number, endedAt: number): Summary {
	const lengthS = (i: number) => Math.max(0, ((list[i + 1]?.at ?? endedAt) - list[i]!.at) / 1000);
	const names = new Map(list.flatMap(({ destinations }) => destinations.map(({ id, name }) => [id, name])));
	return {
		lastsS: (endedAt - startedAt) / 1000,
		destinations: [...names].map(([id, name]) => {
			let [liveS, kbits, lostFrames, lastLost] = [0, 0, 0, 0];
			list.forEach(({ destinations }, i) => {
				const found = destinations.find((each) => each.id === id);
				if (!found) return;
				if (found.live) liveS += lengthS(i);
				if (found.live) kbits += lengthS(i) * found.kbps;
				// The count begins anew when the server does.
				lostFrames += found.lostFrames >= lastLost ? found.lostFrames - lastLost : found.lostFrames;
				lastLost = found.lostFrames;
			});
			return { name, liveS, meanKbps: liveS > 0 ? kbits / liveS : 0, lostFrames };
		}),
		heldS: list.reduce((sum, { held }, i) => sum + (held ? lengthS(i) : 0), 0),
		loudness:
			list.findLast(({ loudness }) => loudness && loudness.integrated > ABSOLUTE_GATE)?.loudness?.integrated ?? null,
	};
}

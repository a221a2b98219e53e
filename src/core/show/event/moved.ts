/** Brings a setup to another day and hour: what is planned goes with the start. */
import { momentOf, timeOfDay } from '../runsheet/clock-time.ts';
import type { Cue } from '../runsheet/cue.ts';
import type { Setup } from '../state.ts';

const DAY_S = 86_400;

/**
 * @param startsAt ISO 8601 local time without zone, or empty: then no time is moved
 * @returns the setup with its sheet, its end and its countdowns as far from the new start as they were from the old one
 */
export function movedTo(setup: Setup, startsAt: string): Setup {
	const before = setup.startsAt;
	if (before === '' || startsAt === '') return { ...setup, startsAt };
	const byS = secondsOf(startsAt.slice(11)) - secondsOf(before.slice(11));
	const time = (planned: string) => (planned === '' ? '' : movedTime(planned, byS));
	const [from, to] = [momentOf(before, 'UTC')!, momentOf(startsAt, 'UTC')!];
	return {
		...setup,
		startsAt,
		overAt: time(setup.overAt),
		cues: setup.cues.map((cue) => movedCue(cue, time)),
		sources: setup.sources.map((source) => {
			if (source.kind !== 'clock') return source;
			const { clock } = source;
			if (clock.shows === 'countdownTo') {
				const at = momentOf(clock.to, 'UTC');
				return at === null ? source : { ...source, clock: { ...clock, to: localOf(at + to - from) } };
			}
			return clock.shows === 'time' ? source : { ...source, clock: { ...clock, startedAt: null } };
		}),
	};
}

function movedCue(cue: Cue, time: (planned: string) => string): Cue {
	const { follow } = cue;
	return {
		...cue,
		plannedAt: time(cue.plannedAt),
		follow: follow.by === 'clock' ? { ...follow, time: time(follow.time) } : follow,
	};
}

function movedTime(time: string, byS: number): string {
	const at = (((secondsOf(time) + byS) % DAY_S) + DAY_S) % DAY_S;
	const text = timeOfDay(1000 * at, 'UTC');
	return text.endsWith(':00') ? text.slice(0, 5) : text;
}

/** Seconds of a day. */
function secondsOf(time: string): number {
	const [hours = 0, minutes = 0, seconds = 0] = time.split(':').map(Number);
	return 3600 * hours + 60 * minutes + seconds;
}

/** A moment of UTC in the form of a local time. */
function localOf(at: number): string {
	return new Date(at).toISOString().slice(0, 16);
}

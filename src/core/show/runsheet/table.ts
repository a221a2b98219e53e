/**
 * The run sheet as a table, one row for each line, to be written and read as CSV (RFC 4180) by a spreadsheet, and as
 * plain text. Scenes, clips, overlays and channels are named by their names.
 */
import * as v from 'valibot';
import { canStart, isClip } from '../clips/source.ts';
import { MOST_NAME_LETTERS, MOST_TEXT_LETTERS } from '../basics.ts';
import { CUT, transitionSchema, type Transition } from '../scenes/scene.ts';
import type { Setup } from '../state.ts';
import { readClockTime, timeOfDay } from './clock-time.ts';
import { clockTimeSchema, cueSchema, plainCue, type Cue, type Follow } from './cue.ts';
import { typedCue } from './typed.ts';

export const COLUMNS = [
	'begins',
	'what',
	'scene',
	'lasts',
	'ends',
	'plays',
	'shows',
	'hides',
	'words',
	'mix',
	'mute',
	'open',
	'transition',
	'warn after',
	'note',
	'kind',
] as const;
type Column = (typeof COLUMNS)[number];

/** Something in a table that was not understood; the line is there without it. */
export interface TableProblem {
	/** From 1, the heading of the columns among them. */
	row: number;
	column: string;
	text: string;
}

export interface ReadTable {
	cues: Cue[];
	problems: TableProblem[];
}

/** Between names of a list. */
const BETWEEN = '; ';
const END = ' + end of broadcast';
/** Words are put away. */
const NO_WORDS = '(none)';

type Named = { id: string; name: string };
type NameLists = Pick<Setup, 'scenes' | 'sources' | 'overlays' | 'channels' | 'mix' | 'people' | 'words'>;

/** @returns the heading of the columns and a row for each line of the sheet */
export function tableOf(setup: NameLists & Pick<Setup, 'cues'>): string[][] {
	return [[...COLUMNS], ...setup.cues.map((cue) => COLUMNS.map((column) => writers[column](cue, setup)))];
}

const nameIn = (list: readonly Named[], id: string) => list.find((each) => each.id === id)?.name ?? '';
const namesIn = (list: readonly Named[], ids: readonly string[]) =>
	ids
		.map((id) => nameIn(list, id))
		.filter((name) => name !== '')
		.join(BETWEEN);

const songsOf = ({ words }: Pick<Setup, 'words'>): Named[] =>
	words.items.map(({ id, song }) => ({ id, name: song.title }));

const writers: Record<Column, (cue: Cue, setup: NameLists) => string> = {
	begins: ({ plannedAt }) => plannedAt,
	what: ({ name }) => name,
	scene: ({ sceneId }, { scenes }) => (sceneId === null ? '' : nameIn(scenes, sceneId)),
	lasts: ({ lengthMs }) => (lengthMs === null ? '' : durationText(lengthMs)),
	ends: (cue, setup) => followText(cue.follow, setup) + (cue.endsBroadcast ? END : ''),
	plays: ({ plays }, { sources }) => namesIn(sources, plays),
	shows: ({ shows }, { overlays, people }) =>
		shows
			.map(({ overlayId, personId }) => [nameIn(overlays, overlayId), personId ? nameIn(people, personId) : ''])
			.filter(([name]) => name !== '')
			.map((names) => names.filter((name) => name !== '').join(' = '))
			.join(BETWEEN),
	hides: ({ hides }, { overlays }) => namesIn(overlays, hides),
	words: ({ words: change }, setup) =>
		change === null ? '' : change.itemId === null ? NO_WORDS : nameIn(songsOf(setup), change.itemId),
	mix: ({ mix: change }, { mix }) =>
		change?.snapshotId ? `${nameIn(mix.snapshots, change.snapshotId)} in ${durationText(change.fadeMs)}` : '',
	mute: ({ mix }, { channels }) => namesIn(channels, mix?.mute ?? []),
	open: ({ mix }, { channels }) => namesIn(channels, mix?.unmute ?? []),
	transition: ({ transition }) => (transition === null ? '' : transitionText(transition)),
	'warn after': ({ limitMs }) => (limitMs === null ? '' : durationText(limitMs)),
	note: ({ note }) => note,
	kind: ({ heading, skipped }) => (heading ? 'heading' : skipped ? 'passed over' : ''),
};

function transitionText({ kind, durationMs, direction, colour, curve }: Transition): string {
	return [kind, durationText(durationMs), direction, colour, curve].join(' ');
}

function followText(follow: Follow, { scenes, sources }: NameLists): string {
	switch (follow.by) {
		case 'go':
			return 'go';
		case 'after':
			return `after ${durationText(follow.ms)}`;
		case 'clock':
			return `at ${follow.time}`.trim();
		case 'clip':
			return `clip ${nameIn(sources, follow.sourceId)}`;
		case 'rotation':
			return `turns ${durationText(follow.everyMs)} +- ${durationText(follow.variesMs)}: ${namesIn(scenes, follow.sceneIds)}`;
	}
}

/** `m:ss`, with thousandths where there are any. */
function durationText(ms: number): string {
	const whole = Math.round(ms);
	const rest = whole % 1000 === 0 ? '' : `.${String(whole % 1000).padStart(3, '0')}`;
	return `${Math.floor(whole / 60_000)}:${String(Math.floor(whole / 1000) % 60).padStart(2, '0')}${rest}`;
}

/** Milliseconds of `12:00`, `1:02:03`, `90 s` or `5 min`; null when it is no length. */
function durationOf(text: string): number | null {
	const [, hours, minutes, seconds] = /^(?:(\d+):)?(\d+):(\d\d(?:\.\d+)?)$/.exec(text.trim()) ?? [];
	if (seconds !== undefined)
		return Math.round(1000 * (Number(seconds) + 60 * Number(minutes) + 3600 * Number(hours ?? 0)));
	const [, amount, unit] = /^(\d+(?:[.,]\d+)?)\s*(s|sec|min|m|')?$/i.exec(text.trim()) ?? [];
	if (amount === undefined) return null;
	const isSeconds = unit === undefined || unit.toLowerCase().startsWith('s');
	return Math.round(Number(amount.replace(',', '.')) * (isSeconds ? 1000 : 60_000));
}

/**
 * Makes lines of a table. The first row names the columns, in any order; without such a row the first two columns are
 * when and what. What is not understood is left out and said.
 * @param newId makes the id of a line
 */
export function cuesOfTable(rows: readonly (readonly string[])[], setup: NameLists, newId: () => string): ReadTable {
	const named = (rows[0] ?? []).map((name) => name.trim().toLowerCase());
	const hasHead = named.includes('what');
	const columns: string[] = hasHead ? named : ['begins', 'what'];
	const problems: TableProblem[] = [];
	if (hasHead)
		for (const name of named)
			if (name !== '' && !(COLUMNS as readonly string[]).includes(name))
				problems.push({ row: 1, column: name, text: '' });
	const cues = rows.slice(hasHead ? 1 : 0).flatMap((row, i) => {
		const reader = new Row(columns, row, i + (hasHead ? 2 : 1), problems);
		const cue = reader.cue(newId(), setup);
		return cue ? [cue] : [];
	});
	return { cues, problems };
}

/** One row while it is read. */
class Row {
	#cells: ReadonlyMap<string, string>;
	#row: number;
	#problems: TableProblem[];

	constructor(columns: readonly string[], cells: readonly string[], row: number, problems: TableProblem[]) {
		// A spreadsheet may keep a formula from running with an apostrophe.
		const clean = (text: string | undefined) => (text ?? '').trim().replace(/^'(?=[=+\-@])/, '');
		this.#cells = new Map(columns.map((column, i) => [column, clean(cells[i])]));
		this.#row = row;
		this.#problems = problems;
	}

	#text(column: Column): string {
		return this.#cells.get(column) ?? '';
	}

	/** Notes what was not understood. */
	#unread(column: Column, text = this.#text(column)): null {
		this.#problems.push({ row: this.#row, column, text: text.slice(0, MOST_NAME_LETTERS) });
		return null;
	}

	#duration(column: Column): number | null {
		const text = this.#text(column);
		return text === '' ? null : (durationOf(text) ?? this.#unread(column));
	}

	#id(column: Column, list: readonly Named[], name = this.#text(column)): string | null {
		if (name.trim() === '') return null;
		const found = list.find((each) => each.name.toLowerCase() === name.trim().toLowerCase());
		return found?.id ?? this.#unread(column, name);
	}

	#ids(column: Column, list: readonly Named[], text = this.#text(column)): string[] {
		return text.split(';').flatMap((name) => this.#id(column, list, name) ?? []);
	}

	cue(id: string, setup: NameLists): Cue | null {
		const name = this.#text('what').slice(0, MOST_NAME_LETTERS);
		if (name === '') {
			if ([...this.#cells.values()].some((text) => text !== '')) this.#unread('what');
			return null;
		}
		const kind = this.#text('kind').toLowerCase();
		const { follow, endsBroadcast } = this.#follow(setup);
		const cue: Cue = {
			...plainCue(id, name),
			heading: kind === 'heading',
			skipped: kind === 'passed over',
			sceneId: this.#id('scene', setup.scenes),
			plays: this.#ids('plays', setup.sources.filter(canStart)),
			shows: this.#shows(setup),
			hides: this.#ids('hides', setup.overlays),
			mix: this.#mix(setup),
			words: this.#words(setup),
			transition: this.#transition(),
			plannedAt: this.#begins(),
			lengthMs: this.#duration('lasts'),
			limitMs: this.#duration('warn after'),
			note: this.#text('note').slice(0, MOST_TEXT_LETTERS),
			follow,
			endsBroadcast,
		};
		const read = v.safeParse(cueSchema, cue);
		if (read.success) return read.output;
		// Something lies outside of what there can be.
		this.#unread('what');
		return plainCue(id, name);
	}

	#begins(): string {
		return readClockTime(this.#text('begins')) ?? this.#unread('begins') ?? '';
	}

	#shows({ overlays, people }: NameLists): Cue['shows'] {
		return this.#text('shows')
			.split(';')
			.flatMap((text) => {
				const [name = '', person = ''] = text.split('=');
				const overlayId = this.#id('shows', overlays, name);
				const personId = this.#id('shows', people, person);
				return overlayId === null ? [] : [{ overlayId, ...(personId !== null && { personId }) }];
			});
	}

	#words(setup: NameLists): Cue['words'] {
		const text = this.#text('words');
		if (text === '' || text === NO_WORDS) return text === '' ? null : { itemId: null };
		const itemId = this.#id('words', songsOf(setup));
		return itemId === null ? null : { itemId };
	}

	#mix({ mix: { snapshots }, channels }: NameLists): Cue['mix'] {
		const [, name = '', fade = ''] = /^(.*?)(?:\sin\s([\d:.]+))?$/.exec(this.#text('mix')) ?? [];
		const snapshotId = this.#id('mix', snapshots, name);
		const mute = this.#ids('mute', channels);
		const unmute = this.#ids('open', channels);
		if (snapshotId === null && mute.length + unmute.length === 0) return null;
		return { snapshotId, fadeMs: durationOf(fade) ?? 1000, mute, unmute };
	}

	#transition(): Cue['transition'] {
		const text = this.#text('transition');
		if (text === '') return null;
		const [kind, duration = '', direction, colour, curve] = text.split(/\s+/);
		const durationMs = durationOf(duration) ?? CUT.durationMs;
		const read = v.safeParse(transitionSchema, { kind, durationMs, direction, colour, curve });
		return read.success ? read.output : this.#unread('transition');
	}

	#follow(setup: NameLists): Pick<Cue, 'follow' | 'endsBroadcast'> {
		const text = this.#text('ends');
		const endsBroadcast = text.endsWith(END.trim()) && text !== '';
		const rule = endsBroadcast ? text.slice(0, -END.trim().length).trim() : text;
		return { follow: this.#rule(rule, setup) ?? { by: 'go' }, endsBroadcast };
	}

	#rule(text: string, { scenes, sources }: NameLists): Follow | null {
		const [, word = '', rest = ''] = /^(\w*)\s*(.*)$/s.exec(text) ?? [];
		switch (word.toLowerCase()) {
			case '':
			case 'go':
				return null;
			case 'after': {
				const ms = durationOf(rest);
				return ms === null ? this.#unread('ends') : { by: 'after', ms };
			}
			case 'at':
				return v.is(clockTimeSchema, rest) ? { by: 'clock', time: rest } : this.#unread('ends');
			case 'clip': {
				const sourceId = this.#id('ends', sources.filter(isClip), rest);
				return sourceId === null ? null : { by: 'clip', sourceId };
			}
			case 'turns': {
				const [, every = '', varies = '', names = ''] = /^([\d:.]+)\s*(?:\+-\s*([\d:.]+))?\s*:(.*)$/.exec(rest) ?? [];
				const everyMs = durationOf(every);
				const sceneIds = this.#ids('ends', scenes, names);
				if (everyMs === null || sceneIds.length === 0) return this.#unread('ends');
				return { by: 'rotation', sceneIds, everyMs, variesMs: durationOf(varies) ?? 0 };
			}
			default:
				return this.#unread('ends');
		}
	}
}

/** A heading in plain text. */
const HEADING = '# ';

/** The sheet as plain text, a line each: when, what, and how long. */
export function textOf(cues: readonly Cue[], planned: (cue: Cue) => number | null, zone: string): string {
	const lines = cues.map((cue) => {
		if (cue.heading) return `\n${HEADING}${cue.name}`;
		const at = planned(cue);
		const time = at === null ? '' : `${timeOfDay(at, zone).slice(0, 5)} `;
		return `${time}${cue.name}`;
	});
	return `${lines.join('\n').trim()}\n`;
}

/** Lines of plain text as somebody types them; one that begins with # is a heading. */
export function cuesOfText(text: string, setup: Pick<Setup, 'scenes' | 'sources'>, newId: () => string): Cue[] {
	return text.split(/\r?\n/).flatMap((line) => {
		const isHeading = line.trimStart().startsWith('#');
		const cue = typedCue(newId(), isHeading ? line.replace(/^[\s#]+/, '') : line, setup);
		if (!cue) return [];
		return [isHeading ? { ...plainCue(cue.id, cue.name), heading: true } : cue];
	});
}

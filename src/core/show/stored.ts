/** Opens what was stored: brings it up to this version, and sets aside what cannot be read, so that the event opens. */
import * as v from 'valibot';
import { commandSchema, type Command } from './command.ts';
import { tryReduce } from './reduce.ts';
import { refuse } from '../refusal.ts';
import { showStateSchema } from './show-schema.ts';
import { emptyShow, type ShowState } from './state.ts';
import { commandFrom1, upgradeFrom1 } from './upgrades/from-1.ts';
import { VERSION } from './version.ts';

/** Something stored that could not be read. */
export interface Unreadable {
	/** A list or field of the show, such as `scenes`, or `command`. */
	what: string;
	/** Its name or id, where it has one. */
	name: string;
	/** What is wrong with it. */
	problem: string;
}

type Raw = Record<string, unknown>;

const MOST_ROUNDS = 50;

const SMALL = { width: 1280, height: 720, fps: 30 } as const;

/**
 * Reads a stored show of any version.
 * @param title of the event, for a show of which nothing can be read
 * @param readsNext whether that of the next version is read as far as it can be: while nodes are replaced, events go back
 * and forth between the two
 * @throws {Refusal} when a later version of Bivvo has stored it
 */
export function openShow(
	eventId: string,
	title: string,
	stored: unknown,
	readsNext = false,
): { state: ShowState; unreadable: Unreadable[] } {
	const unreadable: Unreadable[] = [];
	const empty = emptyShow(eventId, title, '', SMALL);
	if (isRaw(stored) && Number(stored.version ?? 0) > VERSION + Number(readsNext))
		throw refuse('newerVersion', { version: Number(stored.version) });
	const raw = isRaw(stored) ? structuredCloneOf('version' in stored ? stored : upgradeFrom1(stored)) : {};
	const whole: Raw = { version: empty.version, eventId, setup: raw.setup, live: raw.live };
	for (const part of ['setup', 'live'] as const) {
		if (!isRaw(whole[part])) {
			unreadable.push({ what: part, name: '', problem: 'It is missing.' });
			whole[part] = empty[part];
		}
	}
	// What is set aside may uncover something else.
	for (let round = 1; ; round++) {
		if (round > MOST_ROUNDS) throw new Error('A stored show stays unreadable whatever is set aside.');
		const read = v.safeParse(showStateSchema, whole);
		if (read.success) return { state: unreadable.length > 0 ? withoutDangling(read.output) : read.output, unreadable };
		for (const found of mend(whole, read.issues, empty)) unreadable.push(found);
	}
}

/** Takes out what the issues name: an entry of a list, or a field, which becomes that of an empty show. */
function mend(whole: Raw, issues: readonly v.BaseIssue<unknown>[], empty: ShowState): Unreadable[] {
	const gone = new Map<string, Unreadable & { remove: () => void }>();
	for (const { path, message, type, requirement } of issues) {
		const [part, field, entry] = (path ?? []).map(({ key }) => key) as [string, string?, (string | number)?];
		const holder = whole[part] as Raw;
		if (field === undefined) {
			gone.set(part, {
				what: part,
				name: '',
				problem: message,
				remove: () => (whole[part] = (empty as unknown as Raw)[part]),
			});
			continue;
		}
		const list = holder[field];
		const blank = (empty[part as 'setup' | 'live'] as unknown as Raw)[field];
		const isList = Array.isArray(blank) && Array.isArray(list);
		if (isList && entry === undefined && type === 'max_length') {
			const kept = list.slice(0, Number(requirement));
			gone.set(field, { what: field, name: '', problem: message, remove: () => (holder[field] = kept) });
		} else if (entry !== undefined && (isList || field === 'shown')) {
			const broken = (list as Raw)[entry] as Raw | null | undefined;
			const name = String(broken?.name ?? broken?.id ?? entry);
			const others = (each: unknown) => each !== broken;
			const remove = () => {
				const now = holder[field] as unknown[] | Raw;
				holder[field] = Array.isArray(now)
					? now.filter(others)
					: Object.fromEntries(Object.entries(now).filter(([, each]) => others(each)));
			};
			if (!gone.has(`${field}/${entry}`))
				gone.set(`${field}/${entry}`, { what: field, name, problem: message, remove });
		} else {
			gone.set(field, { what: field, name: '', problem: message, remove: () => (holder[field] = blank) });
		}
	}
	return [...gone.values()].map(({ remove, ...found }) => {
		remove();
		return found;
	});
}

/** Without references to what was set aside. */
function withoutDangling({ setup, live, ...rest }: ShowState): ShowState {
	const sources = new Set(setup.sources.map(({ id }) => id));
	const scenes = new Set(setup.scenes.map(({ id }) => id));
	const tidy = <S extends ShowState['setup']['scenes'][number]>(scene: S): S => ({
		...scene,
		layers: scene.layers.filter(({ sourceId }) => sources.has(sourceId)),
		background:
			scene.background.is === 'own' && !sources.has(scene.background.sourceId) ? { is: 'event' } : scene.background,
	});
	const kept = (id: string | null) => (id !== null && scenes.has(id) ? id : null);
	const next = kept(live.next);
	return {
		...rest,
		setup: {
			...setup,
			scenes: setup.scenes.map(tidy),
			background: setup.background !== null && sources.has(setup.background) ? setup.background : null,
			channels: setup.channels.filter(({ sourceId }) => sources.has(sourceId)),
			overlays: setup.overlays.filter((overlay) => overlay.kind !== 'picture' || sources.has(overlay.sourceId)),
			patches: setup.patches.filter(({ sourceId }) => sourceId === null || sources.has(sourceId)),
		},
		live: {
			...live,
			drafts: live.drafts.filter(({ id }) => scenes.has(id)).map(tidy),
			program: kept(live.program),
			next,
			previous: kept(live.previous),
			take: { ...live.take, from: kept(live.take.from) },
			lever: next === null ? 0 : live.lever,
		},
	};
}

/**
 * Does a stored command again. One that could not be done then changes nothing now.
 * @returns the state after it, or what is wrong with it
 */
export function replay(
	state: ShowState,
	stored: unknown,
	at: number,
): { state: ShowState } | { unreadable: Unreadable } {
	const read = v.safeParse(commandSchema, stored);
	const command: Command | null = commandFrom1(stored, state) ?? (read.success ? read.output : null);
	if (!command) {
		const name = isRaw(stored) ? String(stored.type ?? '') : '';
		return { unreadable: { what: 'command', name, problem: read.issues?.[0].message ?? '' } };
	}
	const outcome = tryReduce(state, command, at);
	return { state: 'state' in outcome ? outcome.state : state };
}

function isRaw(value: unknown): value is Raw {
	return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Of JSON, so that what was handed over is not changed. */
function structuredCloneOf(value: Raw): Raw {
	return JSON.parse(JSON.stringify(value)) as Raw;
}

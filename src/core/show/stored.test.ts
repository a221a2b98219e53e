import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plainMix } from './mix/mix.ts';
import { plainScene, wholeLayer } from './scenes/scene.ts';
import { withLive, withSetup } from './slice.ts';
import { plainSource } from './sources/source.ts';
import { emptyShow, endsAt } from './state.ts';
import { openShow, replay } from './stored.ts';
import { VERSION } from './version.ts';

/** A show of version 1 as it was, with a bit of everything in it. */
const { state: first } = JSON.parse(readFileSync('tests/fixtures/state-1.json', 'utf8')) as {
	state: Record<string, never> & {
		sources: { kind: string; origin: { from: string } }[];
		overlays: { id: string; shown: unknown }[];
		channels: { id: string; pressed: boolean }[];
		mix: { fade: unknown };
		delivery: { lines: unknown };
		broadcast: { endsAt: number };
		destinations: object[];
		scenes: { id: string }[];
		drafts: { id: string }[];
	};
};
const open = (stored: unknown) => openShow('lantern-night', 'Lantern Night', stored);
const camera = plainSource('lectern', 'Lectern', { kind: 'standInCamera', standIn: 'lectern' });
const small = withSetup(emptyShow('e', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }), {
	sources: [camera],
	scenes: [plainScene('one', 'One', [wholeLayer('l', 'lectern')]), plainScene('two', 'Two', [])],
});

/** Parts of a show that version 2 has in another form. */
const LEARNT = { keyLasts: false, signed: null, watch: null, hostBroadcast: null };
const CHANGED = [
	'sources',
	'scenes',
	'drafts',
	'overlays',
	'channels',
	'mix',
	'delivery',
	'broadcast',
	'shown',
	'pressed',
	'fade',
	'lines',
];

describe('a show of version 1', () => {
	const { state, unreadable } = open(first);

	it('is brought up without losing anything', () => {
		expect(unreadable).toEqual([]);
		expect(state.version).toBe(VERSION);
		const { setup, live } = state;
		for (const [name, value] of Object.entries({ ...setup, ...live })) {
			if (CHANGED.includes(name)) continue;
			// A destination has learnt since then whether its key lasts, of hosts that are signed in to, and of watch pages.
			const kept = name === 'destinations' ? first.destinations.map((each) => ({ ...each, ...LEARNT })) : first[name];
			if (name in first) expect(value, name).toEqual(kept);
		}
		const kinds = { camera: 'standInCamera', sound: 'standInConsole' } as Record<string, string>;
		// What a kind has learnt since then has its usual value.
		expect(setup.sources).toMatchObject(
			first.sources.map(({ kind, origin: { from: _, ...origin }, ...source }) => ({
				...{ ...source, ...origin },
				kind: kinds[kind] ?? kind,
			})),
		);
		const ungathered = (scene: object) => ({ ...scene, gathers: false });
		expect(setup.scenes).toEqual(first.scenes.map(ungathered));
		expect(live.drafts).toEqual(first.drafts.map(ungathered));
		expect(setup.overlays).toEqual(first.overlays.map(({ shown: _, ...overlay }) => overlay));
		expect(setup.channels).toEqual(first.channels.map(({ pressed: _, ...channel }) => channel));
	});

	it('has what is live where it belongs now', () => {
		const { live, setup } = state;
		expect(live.shown).toEqual({ name: first.overlays.find(({ id }) => id === 'name')!.shown });
		expect(live.pressed).toEqual(['handheld']);
		expect(live.fade).toEqual(first.mix.fade);
		expect(live.lines).toEqual(first.delivery.lines);
		expect(endsAt(state)).toBe(first.broadcast.endsAt);
		expect([setup.mix, setup.delivery].some((part) => 'fade' in part || 'lines' in part)).toBe(false);
	});

	it('opens again the same from what is stored now', () => {
		expect(open(JSON.parse(JSON.stringify(state)))).toEqual({ state, unreadable: [] });
	});
});

describe('commands of version 1', () => {
	it('that replaced the list of people, or added and changed a source whole, do what they did', () => {
		const people = [{ id: 'maren', name: 'Maren Oakshaw', role: 'hut warden' }];
		const framing = { id: 'close', name: 'Close', crop: { x: 0, y: 0, width: 0.5, height: 0.5 } };
		const choir = plainSource('choir', 'Choir', { kind: 'standInCamera', standIn: 'choir-left' });
		const { kind: _, standIn, ...rest } = choir;
		const choir1 = { ...rest, kind: 'camera', origin: { from: 'standIn', standIn } };
		let state = small;
		for (const stored of [
			{ type: 'setPeople', people: [{ id: 'gone', name: 'Gone', role: '' }] },
			{ type: 'setPeople', people },
			{ type: 'addSource', source: choir1, scenes: [plainScene('s', 'Choir', [])], channels: [], at: 0, sceneAt: 1 },
			{ type: 'changeSource', source: { ...choir1, framings: [framing] } },
		]) {
			const outcome = replay(state, stored, 1);
			if ('state' in outcome) state = outcome.state;
		}
		expect(state.setup.people).toEqual(people);
		expect(state.setup.sources).toEqual([{ ...choir, framings: [framing] }, camera]);
		expect(state.setup.scenes.map(({ id }) => id)).toEqual(['one', 's', 'two']);
	});
});

describe('what cannot be read', () => {
	it('is set aside and named, and the rest opens without pointing at it', () => {
		const broken = withLive(small, { program: 'one', next: 'two' });
		const stored = JSON.parse(JSON.stringify(broken)) as typeof broken;
		Object.assign(stored.setup.sources[0]!, { kind: 'hologram' });
		Object.assign(stored.setup.scenes[1]!, { layers: 'none', name: 'Two' });
		Object.assign(stored.setup, { mix: null });
		Object.assign(stored.live, { lever: null });
		const { state, unreadable } = open(stored);
		expect(unreadable.map(({ what, name }) => `${what} ${name}`).sort()).toEqual([
			'lever ',
			'mix ',
			'scenes Two',
			'sources Lectern',
		]);
		expect(state.setup.scenes).toEqual([plainScene('one', 'One', [])]);
		expect(state.setup.mix).toEqual(plainMix());
		expect(state.live).toMatchObject({ program: 'one', next: null, lever: 0 });
	});

	it('may be all of it, or a command', () => {
		for (const stored of [null, 'text', { unreadable: '{"set' }, { version: VERSION }]) {
			const { state, unreadable } = open(stored);
			expect(state.setup.title).toBe('Lantern Night');
			expect(unreadable.length).toBeGreaterThan(0);
		}
		expect(replay(small, { type: 'beam', to: 'host' }, 1)).toMatchObject({
			unreadable: { what: 'command', name: 'beam' },
		});
	});

	it('is not guessed at when a later version has stored it', () => {
		expect(() => open({ version: VERSION + 1 })).toThrow('newerVersion');
	});

	it('is read as far as it can be when the next version has stored it, for nodes of two versions', () => {
		const { setup, live } = small;
		const next = {
			version: VERSION + 1,
			setup: { ...setup, weather: 'snow', sources: [...setup.sources, { ...camera, id: 'kite', kind: 'kite' }] },
			live: { ...live, program: 'one', wind: 7 },
		};
		const { state, unreadable } = openShow('e', 'Lantern Night', next, true);
		expect(unreadable.map(({ what, name }) => [what, name])).toEqual([['sources', 'Lectern']]);
		expect(state).toEqual({ ...small, live: { ...live, program: 'one' } });
		expect(() => openShow('e', 'Lantern Night', { ...next, version: VERSION + 2 }, true)).toThrow('newerVersion');
	});

	it('never keeps an event from opening, whatever is damaged', () => {
		const paths = (value: unknown, path: (string | number)[] = []): (string | number)[][] =>
			typeof value !== 'object' || value === null
				? [path]
				: [path, ...Object.entries(value).flatMap(([key, each]) => paths(each, [...path, key]))];
		const places = paths(open(first).state).filter(([part, field]) => part !== 'version' && (field || part));
		fc.assert(
			fc.property(
				fc.array(fc.tuple(fc.nat(places.length - 1), fc.constantFrom(null, 'x', -1, [], {})), {
					minLength: 1,
					maxLength: 6,
				}),
				(damages) => {
					const stored = JSON.parse(JSON.stringify(open(first).state)) as Record<string, unknown>;
					for (const [at, value] of damages) damage(stored, places[at]!, structuredClone(value));
					const { state } = open(stored);
					expect(open(JSON.parse(JSON.stringify(state)))).toEqual({ state, unreadable: [] });
				},
			),
		);
	});
});

function damage(stored: Record<string, unknown>, path: readonly (string | number)[], value: unknown): void {
	let holder: unknown = stored;
	for (const key of path.slice(0, -1)) {
		if (typeof holder !== 'object' || holder === null) return;
		holder = (holder as Record<string, unknown>)[key];
	}
	if (typeof holder === 'object' && holder !== null && path.length > 0)
		(holder as Record<string, unknown>)[path.at(-1)!] = value;
}

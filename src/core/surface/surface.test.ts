import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { plainChannel } from '../show/mix/mix.ts';
import { reduceAll } from '../show/reduce.ts';
import { plainScene } from '../show/scenes/scene.ts';
import { plainSource } from '../show/sources/source.ts';
import { emptyShow, type ShowState } from '../show/state.ts';
import { readMidi, writeMidi, type Control } from './midi.ts';
import { PickUp } from './pick-up.ts';
import { surfaceProfileSchema, type SurfaceProfile } from './profile.ts';
import { gainAt, positionOf, Surface } from './surface.ts';

const AT = 1_795_000_000_000;
const fader: Control = { is: 'change', channel: 0, number: 7 };
const motor: Control = { is: 'bend', channel: 2, number: 0 };
const pad: Control = { is: 'note', channel: 9, number: 36 };

describe('messages of MIDI', () => {
	it('are read as they are written', () => {
		const control = fc.oneof(
			fc.record({ is: fc.constantFrom('note' as const, 'change' as const), channel: fc.nat(15), number: fc.nat(127) }),
			fc.record({ is: fc.constant('bend' as const), channel: fc.nat(15), number: fc.constant(0) }),
		);
		fc.assert(
			fc.property(control, fc.nat(127), (each, step) => {
				const read = readMidi(writeMidi(each, step / 127))!;
				expect(read.control).toEqual(each);
				expect(read.position).toBeCloseTo(step / 127, 3);
			}),
		);
		expect(readMidi(Uint8Array.of(0x80, 36, 64))).toEqual({ control: { ...pad, channel: 0 }, position: 0 });
	});

	it('that are about no control, or are none, come to nothing', () => {
		for (const bytes of [[], [0xf8], [0x90, 36], [0xc0, 1, 2], [0x90, 200, 1], [0x45, 1, 2]])
			expect(readMidi(Uint8Array.from(bytes))).toBeNull();
	});
});

describe('a fader without a motor', () => {
	it('moves nothing before it has come to where that is, and never makes it jump', () => {
		const pickUp = new PickUp();
		let target = 0.8;
		const moved: (number | null)[] = [];
		for (const to of [0.1, 0.4, 0.7, 0.82, 0.9]) {
			const set = pickUp.move(to, target);
			moved.push(set);
			if (set !== null) target = set;
		}
		expect(moved).toEqual([null, null, null, 0.82, 0.9]);
		// Somebody else moves it: it has to be fetched again, from above.
		target = 0.3;
		expect([0.88, 0.6].map((to) => pickUp.move(to, target))).toEqual([null, null]);
		expect(pickUp.wayTo(target)).toBe('down');
		expect(pickUp.move(0.29, target)).toBe(0.29);
		expect(pickUp.wayTo(0.29)).toBeNull();
	});

	it('whatever hand and others do, it is never set farther from where it was than the hand has moved', () => {
		const part = fc.nat(127).map((step) => step / 127);
		fc.assert(
			fc.property(fc.array(fc.tuple(part, fc.option(part, { freq: 4 })), { maxLength: 60 }), (moves) => {
				const pickUp = new PickUp();
				let [target, hand] = [0.5, null as number | null];
				for (const [to, other] of moves) {
					if (other !== null) target = other;
					const set = pickUp.move(to, target);
					const way = hand === null ? 0 : Math.abs(to - hand);
					if (set !== null) {
						expect(Math.abs(set - target)).toBeLessThanOrEqual(way + 3 / 127);
						target = set;
					}
					hand = to;
				}
			}),
			{ seed: 20_261_128 },
		);
	});
});

describe('a surface at an event', () => {
	const profile: SurfaceProfile = v.parse(surfaceProfileSchema, {
		format: 'bivvo surface 1',
		name: 'Fader box',
		assignments: [
			{ control: fader, does: { is: 'fader', channelId: 'mic' } },
			{ control: motor, does: { is: 'group', group: 'music' }, motor: true },
			{ control: pad, does: { is: 'order', order: { action: 'take-scene', of: 'lectern' } } },
		],
	});
	const show = reduceAll(
		emptyShow('lantern-night', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }),
		[
			{ type: 'addSource', source: plainSource('console', 'Console', { kind: 'standInConsole' } as never) },
			{ type: 'addChannel', channel: plainChannel('mic', 'console', 'Lectern mic') },
			{ type: 'addScene', scene: plainScene('lectern', 'Lectern', []) },
		],
		AT,
	);
	const move = (surface: Surface, control: Control, position: number, state: ShowState, now = AT) =>
		surface.receive(writeMidi(control, position), state, now);

	it('presses, moves, waits for pick-up, and says what it does not know', () => {
		const surface = new Surface(profile);
		expect(move(surface, pad, 1, show)).toEqual({ is: 'press', order: { action: 'take-scene', of: 'lectern' } });
		expect(move(surface, pad, 0, show)).toMatchObject({ is: 'release' });
		expect(move(surface, fader, 0.1, show)).toEqual({ is: 'waits', way: 'up' });
		const there = positionOf(show.setup.channels[0]!.gainDb);
		expect(move(surface, fader, there, show)).toMatchObject({
			is: 'moved',
			command: { type: 'setFader', channelId: 'mic' },
		});
		expect(move(surface, motor, 1, show)).toEqual({
			is: 'moved',
			command: { type: 'setGroupFader', group: 'music', gainDb: 12 },
		});
		expect(move(surface, { ...pad, number: 40 }, 1, show)).toMatchObject({ is: 'unknown', control: { number: 40 } });
	});

	it('shows how things stand, once for each change, and leaves a motor alone that a hand is on', () => {
		const surface = new Surface(profile);
		const sent = (state: ShowState, now: number) => surface.feedback(state, now).map((bytes) => readMidi(bytes)!);
		expect(sent(show, AT)).toMatchObject([{ control: motor }, { control: pad, position: 0 }]);
		expect(sent(show, AT)).toEqual([]);
		const taken = reduceAll(show, [{ type: 'take', sceneId: 'lectern' }], AT);
		expect(sent(taken, AT)).toEqual([{ control: pad, position: 1 }]);
		move(surface, motor, 0.5, taken, AT + 1000);
		const moved = reduceAll(taken, [{ type: 'setGroupFader', group: 'music', gainDb: -20 }], AT);
		expect(sent(moved, AT + 1100)).toEqual([]);
		expect(sent(moved, AT + 2000)).toMatchObject([{ control: motor }]);
	});

	it('has positions that are the fader’s own, over all of its way', () => {
		for (const gainDb of [-60, -10, 0, 12]) expect(gainAt(positionOf(gainDb))).toBe(gainDb);
	});
});

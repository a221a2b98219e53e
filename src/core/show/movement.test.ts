import { expect, it } from 'vitest';
import type { Command } from './command.ts';
import { isMovement, withNext } from './movement.ts';

const fader = (channelId: string, gainDb: number): Command => ({ type: 'setFader', channelId, gainDb });
const waiting = (...commands: Command[]) =>
	commands
		.reduce<{ command: Command }[]>((list, command) => withNext(list, { command }), [])
		.map(({ command }) => command);

it('of a fader that is moved the last place waits; what lies in between, or is another’s, stays', () => {
	const take: Command = { type: 'take', sceneId: 'chapel-wide' };
	expect(waiting(fader('choir', -3), fader('choir', -2), fader('choir', -1))).toEqual([fader('choir', -1)]);
	const apart = [fader('choir', -3), fader('speech', -3), fader('choir', -2), take, fader('choir', -1), take, take];
	expect(waiting(...apart)).toEqual(apart);
});

it('a lever that has come to its end is a take, and no movement that a later one says again', () => {
	const lever = (position: number): Command => ({ type: 'setLever', position });
	expect([lever(0.5), lever(1), { type: 'setDirect', direct: true } as Command].map(isMovement)).toEqual([
		true,
		false,
		false,
	]);
	expect(waiting(lever(0.5), lever(0.9), lever(1), lever(0.1))).toEqual([lever(0.9), lever(1), lever(0.1)]);
});

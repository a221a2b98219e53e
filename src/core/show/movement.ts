/** Commands that come many times a second while somebody moves something. */
import type { Command } from './command.ts';

/** True for such a command. */
export function isMovement(command: Command): boolean {
	return isReplacedBy(command, command);
}

/** True when a command says all that the one before it said: of a moving fader only the last place is of use. */
export function isReplacedBy(before: Command, next: Command): boolean {
	switch (next.type) {
		case 'setFader':
			return before.type === 'setFader' && before.channelId === next.channelId;
		case 'setGroupFader':
			return (
				before.type === 'setGroupFader' &&
				before.group === next.group &&
				before.fadeMs === undefined &&
				next.fadeMs === undefined
			);
		case 'setLever':
			return before.type === 'setLever' && before.position < 1 && next.position < 1;
		case 'setMaster':
		case 'setDucking':
			return before.type === next.type;
		default:
			return false;
	}
}

/** Commands that wait, with one more: the last of them goes when the new one says all of it. */
export function withNext<T extends { command: Command }>(waiting: readonly T[], next: T): T[] {
	const last = waiting.at(-1);
	const rest = last && isReplacedBy(last.command, next.command) ? waiting.slice(0, -1) : waiting;
	return [...rest, next];
}

/** Which role may press what: whoever may send all commands that an action can come to. */
import { SHOW_ACTIONS } from '../show/actions/actions.ts';
import type { Order } from '../show/actions/order.ts';
import type { Command } from '../show/command.ts';
import { partsOf } from '../show/command.ts';
import { macroOf } from '../show/macros/runs.ts';
import type { Setup } from '../show/state.ts';
import { COMMAND_RULES, type SingleType } from './policy.ts';
import type { AnyRole } from './roles.ts';

/** The first command that a role may not send of those that an order can come to; null when it may press it. */
export function forbiddenOrder(role: AnyRole, setup: Setup, { action, of }: Order): SingleType | null {
	const types = SHOW_ACTIONS[action].types as readonly SingleType[];
	const own = types.find((type) => !COMMAND_RULES[type].includes(role));
	if (own !== undefined) return own;
	return action === 'macro' ? forbiddenMacro(role, setup, of!) : null;
}

/** The same of all that a macro does: who may run one may do no more by it than without. */
function forbiddenMacro(role: AnyRole, setup: Setup, macroId: string): SingleType | null {
	for (const step of macroOf(setup, macroId)?.steps ?? []) {
		const forbidden = step.is === 'order' ? forbiddenOrder(role, setup, step.order) : null;
		if (forbidden !== null) return forbidden;
	}
	return null;
}

/** The first thing that a role may not do of what the macros do that a command runs; null when there is none. */
export function forbiddenRun(role: AnyRole, setup: Setup, command: Command): SingleType | null {
	for (const part of partsOf(command)) {
		const forbidden = part.type === 'runMacro' ? forbiddenMacro(role, setup, part.macroId) : null;
		if (forbidden !== null) return forbidden;
	}
	return null;
}

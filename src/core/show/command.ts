/** All commands of a show, composed of its slices: who may send them, and which can be parts of a batch. */
import * as v from 'valibot';
import { idSchema } from './basics.ts';
import { broadcastCommands } from './broadcast/commands.ts';
import { clipCommands } from './clips/commands.ts';
import { crewCommands } from './crew/commands.ts';
import { deliveryCommands, deliveryServerCommands } from './delivery/commands.ts';
import { carriedCommands } from './event/carried.ts';
import { eventCommands } from './event/commands.ts';
import { fieldCommands } from './event/fields.ts';
import { guestCommands, guestServerCommands } from './guests/commands.ts';
import { macroCommands, macroRunCommands } from './macros/commands.ts';
import { mixCommands } from './mix/commands.ts';
import { overlayCommands } from './overlays/commands.ts';
import { panelCommands } from './panels/commands.ts';
import { runsheetCommands } from './runsheet/commands.ts';
import { sceneCommands } from './scenes/commands.ts';
import { commands, type CommandOf } from './slice.ts';
import { sourceCommands } from './sources/commands.ts';
import { surfaceCommands } from './surfaces/commands.ts';
import { takeCommands } from './takes/commands.ts';
import { wordsCommands } from './words/commands.ts';

/** Commands of one batch at most. */
export const MOST_BATCH = 300;
/** Bytes of a command's JSON at most: what a page's socket carries, and a row of the database. */
export const MOST_COMMAND_BYTES = 256 * 1024;

const pageCommands = {
	...eventCommands,
	...fieldCommands,
	...carriedCommands,
	...sourceCommands,
	...sceneCommands,
	...overlayCommands,
	...clipCommands,
	...takeCommands,
	...mixCommands,
	...deliveryCommands,
	...broadcastCommands,
	...runsheetCommands,
	...guestCommands,
	...wordsCommands,
	...macroCommands,
	...macroRunCommands,
	...panelCommands,
	...crewCommands,
	...surfaceCommands,
};

/** What only the server may do. */
export const serverCommands = {
	...deliveryServerCommands,
	...guestServerCommands,
	/** Does what is due under an id, all or nothing, and forgets the entry. */
	...commands({ fallDue: { dueId: idSchema } }),
};

/** A command that is no batch of others and that a page may send. */
export const singleCommandSchema = v.variant('type', Object.values(pageCommands));

const batchSchema = v.object({
	type: v.literal('batch'),
	/** Done one after another at one time, all of them or none. */
	commands: v.pipe(v.array(singleCommandSchema), v.maxLength(MOST_BATCH)),
});

/** What a page may send. */
export const pageCommandSchema = v.variant('type', [batchSchema, ...Object.values(pageCommands)]);

/** What the hub stores and announces. */
export const commandSchema = v.variant('type', [
	batchSchema,
	...Object.values(pageCommands),
	...Object.values(serverCommands),
]);

export type SingleCommand = CommandOf<typeof pageCommands>;
export type ServerCommand = CommandOf<typeof serverCommands>;
export type PageCommand = SingleCommand | v.InferOutput<typeof batchSchema>;
export type Command = PageCommand | ServerCommand;

/** One command of several; of one alone that itself. */
export function batchOf(list: readonly SingleCommand[]): PageCommand {
	const [only] = list;
	return list.length === 1 && only ? only : { type: 'batch', commands: [...list] };
}

/** The commands of a batch; of any other command that itself. */
export function partsOf(command: Command): readonly Command[] {
	return command.type === 'batch' ? command.commands : [command];
}

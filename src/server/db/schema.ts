/** Tables. An event's state is its newest snapshot and the commands stored since. */
import { bigint, customType, index, int, mysqlTable, primaryKey, text, varchar } from 'drizzle-orm/mysql-core';
import type { LogKind } from '../../core/show/broadcast/log.ts';
import type { Figures } from '../../core/show/broadcast/report.ts';
import type { SavedDestination } from '../../core/show/state.ts';
import type { Unreadable } from '../../core/show/stored.ts';

/** The program of a broadcast, what was recorded beside it, or a part cut out of one. */
export type RecordingKind = 'program' | 'source' | 'channel' | 'clip';

/** MariaDB keeps JSON as text and its driver hands it over as text. */
const json = customType<{ data: unknown; driverData: string }>({
	dataType: () => 'longtext',
	toDriver: (value) => JSON.stringify(value),
	fromDriver: (text) => {
		try {
			return JSON.parse(text) as unknown;
		} catch {
			// Whoever reads it finds that it is not what it should be, and says so.
			return { unreadable: text };
		}
	},
});

/** An id of ours: small and capital letters are different ones. */
const idColumn = customType<{ data: string; driverData: string }>({
	dataType: () => 'varchar(64) character set ascii collate ascii_bin',
});

export const events = mysqlTable('events', {
	id: idColumn('id').primaryKey(),
	title: varchar('title', { length: 120 }).notNull(),
	startsAt: varchar('starts_at', { length: 40 }).notNull(),
	createdAt: bigint('created_at', { mode: 'number' }).notNull(),
	/** Sequence number of the last command within the snapshot. */
	snapshotSeq: int('snapshot_seq').notNull(),
	/** Of any version, read by core/show/stored.ts. */
	snapshot: json('snapshot').notNull(),
	/** When something of it is due by itself, milliseconds since 1970. */
	dueAt: bigint('due_at', { mode: 'number' }),
});

export const commands = mysqlTable(
	'commands',
	{
		eventId: idColumn('event_id')
			.notNull()
			.references(() => events.id, { onDelete: 'cascade' }),
		seq: int('seq').notNull(),
		/** Milliseconds since 1970 when the hub took it. */
		at: bigint('at', { mode: 'number' }).notNull(),
		/** The page that sent it. */
		by: idColumn('by_client').notNull(),
		/** The sender's name for it, so that one sent again after a lost connection counts once. */
		commandId: idColumn('command_id').notNull(),
		/** Of any version. */
		command: json('command').notNull(),
	},
	(table) => [primaryKey({ columns: [table.eventId, table.seq] })],
);

/** The organisation's destinations, for all its events; keys and passwords sealed, see access/secrets.ts. */
export const destinations = mysqlTable('destinations', {
	id: idColumn('id').primaryKey(),
	/** All that may be seen of it; null until an event that knows it is opened. */
	about: json('about').$type<SavedDestination>(),
	sealed: text('sealed').notNull(),
});

export const recordings = mysqlTable(
	'recordings',
	{
		id: idColumn('id').primaryKey(),
		eventId: idColumn('event_id').notNull(),
		broadcastId: idColumn('broadcast_id').notNull(),
		startedAt: bigint('started_at', { mode: 'number' }).notNull(),
		endedAt: bigint('ended_at', { mode: 'number' }),
		/** File name within the recordings folder. */
		file: varchar('file', { length: 255 }).notNull(),
		bytes: bigint('bytes', { mode: 'number' }).notNull(),
		kind: varchar('kind', { length: 20 }).notNull().default('program').$type<RecordingKind>(),
		/** What is in it, as people call it: of a source or a channel its name. */
		name: varchar('name', { length: 120 }).notNull().default(''),
		/** When it was deleted; its file is kept for a day. */
		deletedAt: bigint('deleted_at', { mode: 'number' }),
	},
	(table) => [index('recordings_event').on(table.eventId)],
);

/** How a broadcast went, every few seconds: what its report is drawn from. */
export const figures = mysqlTable(
	'figures',
	{
		id: int('id').autoincrement().primaryKey(),
		eventId: idColumn('event_id')
			.notNull()
			.references(() => events.id, { onDelete: 'cascade' }),
		broadcastId: idColumn('broadcast_id').notNull(),
		at: bigint('at', { mode: 'number' }).notNull(),
		figures: json('figures').$type<Figures>().notNull(),
		/** Names the row, so that one written again after a lost answer is there once. */
		entry: idColumn('entry').unique(),
	},
	(table) => [index('figures_broadcast').on(table.eventId, table.broadcastId)],
);

/** What happened at an event, in words: takes, markers, and how its destinations went. */
export const logLines = mysqlTable(
	'log_lines',
	{
		id: int('id').autoincrement().primaryKey(),
		eventId: idColumn('event_id')
			.notNull()
			.references(() => events.id, { onDelete: 'cascade' }),
		at: bigint('at', { mode: 'number' }).notNull(),
		kind: varchar('kind', { length: 20 }).notNull().$type<LogKind>(),
		text: varchar('text', { length: 500 }).notNull(),
		/** Names the row, so that one written again after a lost answer is there once. */
		entry: idColumn('entry').unique(),
	},
	(table) => [index('log_lines_event').on(table.eventId, table.at)],
);

/** Parts of stored events that could not be read, as they were. */
export const setAside = mysqlTable('set_aside', {
	id: int('id').autoincrement().primaryKey(),
	eventId: idColumn('event_id').notNull(),
	at: bigint('at', { mode: 'number' }).notNull(),
	unreadable: json('unreadable').$type<Unreadable[]>().notNull(),
	snapshot: json('snapshot').notNull(),
});

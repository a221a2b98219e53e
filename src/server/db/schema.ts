/** Tables. An event's state is its newest snapshot and the commands stored since. */
import {
	bigint,
	boolean,
	customType,
	index,
	int,
	mediumtext,
	mysqlTable,
	primaryKey,
	text,
	varchar,
} from 'drizzle-orm/mysql-core';
import type { AuditCode } from '../../core/access/audit.ts';
import type { AnyRole, Role } from '../../core/access/roles.ts';
import type { SignInState } from '../../core/hosts/sign-in.ts';
import type { LogKind } from '../../core/show/broadcast/log.ts';
import type { Emptying } from '../../core/nodes/load.ts';
import type { Figures } from '../../core/show/broadcast/report.ts';
import type { SavedDestination } from '../../core/show/state.ts';
import type { Unreadable } from '../../core/show/stored.ts';

/**
 * The program of a broadcast, what was recorded beside it, what a guest's browser has recorded and lies exactly where they are
 * heard or roughly there, or a part cut out of one.
 */
export type RecordingKind = 'program' | 'source' | 'channel' | 'own' | 'ownRoughly' | 'excerpt';

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

/** SHA-256 of a secret, in hexadecimal digits. */
const hashColumn = customType<{ data: string; driverData: string }>({
	dataType: () => 'char(64) character set ascii collate ascii_bin',
});

/** An id of ours: small and capital letters are different ones. */
const idColumn = customType<{ data: string; driverData: string }>({
	dataType: () => 'varchar(64) character set ascii collate ascii_bin',
});

const blobColumn = customType<{ data: Uint8Array; driverData: Buffer }>({
	dataType: () => 'longblob',
	toDriver: (bytes) => Buffer.from(bytes),
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
	/** The template that it was made from, and the version of that whose changes it has; null for none. */
	templateId: idColumn('template_id'),
	templateVersion: int('template_version').notNull().default(0),
	/** Out of sight, and to be gone for good some days later. */
	archivedAt: bigint('archived_at', { mode: 'number' }),
	deletedAt: bigint('deleted_at', { mode: 'number' }),
	/** What was seen and tried, for the line check; null before anybody has looked. */
	facts: json('facts'),
	/** When something of it is due by itself, milliseconds since 1970. */
	dueAt: bigint('due_at', { mode: 'number' }),
	/** Whether it is on air: of several nodes another one follows when its own is gone. */
	onAir: boolean('on_air').notNull().default(false),
});

/**
 * Which node an event belongs to. A node that has not renewed its lease in time may be followed by another one, with a
 * higher fence; what is written under a lower one is refused, see nodes/fence.ts.
 */
export const eventLeases = mysqlTable(
	'event_leases',
	{
		/** Or `~organisation`, of what belongs to none. */
		eventId: idColumn('event_id').primaryKey(),
		node: idColumn('node').notNull(),
		fence: bigint('fence', { mode: 'number' }).notNull(),
		/** Milliseconds since 1970 by the database's clock. */
		expiresAt: bigint('expires_at', { mode: 'number' }).notNull(),
		/** Grows with each write under the fence, so that of two at the same time, at any two databases of a cluster, one fails. */
		writes: bigint('writes', { mode: 'number' }).notNull().default(0),
	},
	(table) => [index('event_leases_node').on(table.node)],
);

/** By what another node goes on with a broadcast on air before its desk has found it, see broadcast/handovers.ts. */
export const handovers = mysqlTable('handovers', {
	eventId: idColumn('event_id').primaryKey(),
	broadcastId: idColumn('broadcast_id').notNull(),
	/** Where the broadcast's line of time begins, milliseconds since 1970. */
	beganAt: bigint('began_at', { mode: 'number' }).notNull(),
	/** What the desk has introduced: packets of the uplink, each behind its length. */
	introduced: blobColumn('introduced').notNull(),
});

/** Processes that carry events, each from its start on. */
export const nodes = mysqlTable('nodes', {
	id: idColumn('id').primaryKey(),
	/** Where other nodes reach it, and where desks do; null where they do not. */
	url: varchar('url', { length: 255 }).notNull(),
	publicUrl: varchar('public_url', { length: 255 }),
	/** Tells keys apart without telling them. */
	keyMark: varchar('key_mark', { length: 43 }).notNull(),
	version: varchar('version', { length: 40 }).notNull(),
	startedAt: bigint('started_at', { mode: 'number' }).notNull(),
	/** Milliseconds since 1970 by the database's clock. */
	seenAt: bigint('seen_at', { mode: 'number' }).notNull(),
	/** What it has to do and room for, as core/nodes/load.ts says; of any version. */
	load: json('load_now').notNull(),
	/** How somebody empties it; null while it takes events. */
	emptying: varchar('emptying', { length: 10 }).$type<Emptying>(),
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

/** Setups that events are made from. */
export const templates = mysqlTable('templates', {
	id: idColumn('id').primaryKey(),
	name: varchar('name', { length: 120 }).notNull(),
	/** As core/show/templates/template.ts says. */
	asks: json('asks').notNull(),
	deletedAt: bigint('deleted_at', { mode: 'number' }),
});

/** Every version of a template, from 1: what an event took is compared with what the template is now. */
export const templateVersions = mysqlTable(
	'template_versions',
	{
		templateId: idColumn('template_id')
			.notNull()
			.references(() => templates.id, { onDelete: 'cascade' }),
		version: int('version').notNull(),
		at: bigint('at', { mode: 'number' }).notNull(),
		/** A show without anything live, of any version; read by core/show/stored.ts. */
		show: json('show_state').notNull(),
	},
	(table) => [primaryKey({ columns: [table.templateId, table.version] })],
);

/** The organisation's destinations, for all its events; keys and passwords sealed, see access/secrets.ts. */
export const destinations = mysqlTable('destinations', {
	id: idColumn('id').primaryKey(),
	/** All that may be seen of it; null until an event that knows it is opened. */
	about: json('about').$type<SavedDestination>(),
	sealed: text('sealed').notNull(),
	/** When its key was typed, and when something was sent there last, milliseconds since 1970; 0 for never. */
	keyTypedAt: bigint('key_typed_at', { mode: 'number' }).notNull().default(0),
	sentAt: bigint('sent_at', { mode: 'number' }).notNull().default(0),
});

/** Hosts that the organisation is signed in to; tokens sealed, see access/secrets.ts. */
export const hostSignIns = mysqlTable('host_sign_ins', {
	id: idColumn('id').primaryKey(),
	/** As core/hosts/profile.ts says, without its secret. */
	profile: json('profile').notNull(),
	sealed: text('sealed').notNull(),
	state: varchar('state', { length: 20 }).notNull().$type<SignInState>(),
});

/** What watch pages show of events, so that it is known when nobody has the event open. */
export const watchedEvents = mysqlTable(
	'watched_events',
	{
		destinationId: idColumn('destination_id').notNull(),
		eventId: idColumn('event_id')
			.notNull()
			.references(() => events.id, { onDelete: 'cascade' }),
		/** As core/watch-page/watched.ts says. */
		watched: json('watched').notNull(),
	},
	(table) => [primaryKey({ columns: [table.destinationId, table.eventId] })],
);

/** Cameras and encoders in the network, for all events of the organisation; keys sealed, see access/secrets.ts. */
export const cameras = mysqlTable('cameras', {
	id: idColumn('id').primaryKey(),
	sealed: text('sealed').notNull(),
	/** When it was given its key, milliseconds since 1970. */
	keyMadeAt: bigint('key_made_at', { mode: 'number' }).notNull(),
});

/** Songs and texts of the organisation, for all its events. */
export const songs = mysqlTable(
	'songs',
	{
		id: idColumn('id').primaryKey(),
		title: varchar('title', { length: 120 }).notNull(),
		/** As core/words/song.ts says. */
		song: json('song').notNull(),
		/** Title, authors and lines as they are compared, a row each; see `searchText`. */
		search: mediumtext('search').notNull(),
		changedAt: bigint('changed_at', { mode: 'number' }).notNull(),
	},
	(table) => [index('songs_title').on(table.title)],
);

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
		/** Id of the node's folder in which it is written; '' when it lies where all look, and on a server of one. */
		place: idColumn('place').notNull().default(''),
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

/** The organisation's media library; the files lie in the data folder, named by their ids. */
export const media = mysqlTable('media', {
	id: idColumn('id').primaryKey(),
	name: varchar('name', { length: 120 }).notNull(),
	folder: varchar('folder', { length: 120 }).notNull().default(''),
	bytes: bigint('bytes', { mode: 'number' }).notNull(),
	/** Milliseconds since 1970. */
	addedAt: bigint('added_at', { mode: 'number' }).notNull(),
	about: json('about').notNull(),
	/** Null until a page has computed it. */
	analysis: json('analysis'),
	settings: json('settings').notNull(),
	/** When it was deleted; its file is kept for some days. */
	deletedAt: bigint('deleted_at', { mode: 'number' }),
});

/** Other organisations of this server; kept by the first one. Each has a database of its own. */
export const organisations = mysqlTable('organisations', {
	id: idColumn('id').primaryKey(),
	name: varchar('name', { length: 120 }).notNull(),
	createdAt: bigint('created_at', { mode: 'number' }).notNull(),
});

/** What holds for all of the organisation. */
export const organisation = mysqlTable('organisation', {
	name: varchar('name', { length: 40 }).primaryKey(),
	value: json('value').notNull(),
});

/** People with an account. */
export const people = mysqlTable('people', {
	id: idColumn('id').primaryKey(),
	name: varchar('name', { length: 120 }).notNull(),
	/** What they sign in with, in small letters. */
	login: varchar('login', { length: 64 }).notNull().unique(),
	/** In the organisation; null for who has a role at some events only. */
	role: varchar('role', { length: 20 }).$type<Role>(),
	roleAt: json('role_at').$type<Record<string, Role>>().notNull(),
	/** Argon2id, as a PHC string; null for who signs in with passkeys only. */
	password: varchar('password', { length: 255 }),
	/** Secret of the second factor (RFC 6238), sealed; null for none. */
	secondFactor: text('second_factor'),
	/** The last step of the second factor that was used, so that none counts twice. */
	lastStep: int('last_step').notNull().default(0),
	createdAt: bigint('created_at', { mode: 'number' }).notNull(),
	/** When somebody took the account away. */
	removedAt: bigint('removed_at', { mode: 'number' }),
});

export const passkeys = mysqlTable(
	'passkeys',
	{
		/** Credential id, base64url; it may have 1023 bytes, and nobody's has more than 500 letters. */
		id: varchar('id', { length: 500 }).primaryKey(),
		personId: idColumn('person_id')
			.notNull()
			.references(() => people.id, { onDelete: 'cascade' }),
		name: varchar('name', { length: 120 }).notNull(),
		publicKey: text('public_key').notNull(),
		counter: bigint('counter', { mode: 'number' }).notNull(),
		transports: json('transports').$type<string[]>().notNull(),
		createdAt: bigint('created_at', { mode: 'number' }).notNull(),
		usedAt: bigint('used_at', { mode: 'number' }),
	},
	(table) => [index('passkeys_person').on(table.personId)],
);

/** Who is signed in: people, paired devices, people with a link. */
export const sessions = mysqlTable(
	'sessions',
	{
		id: idColumn('id').primaryKey(),
		hash: hashColumn('hash').notNull().unique(),
		/** The secret before this one, and until when it is taken: requests may cross on their way. */
		formerHash: hashColumn('former_hash'),
		formerUntil: bigint('former_until', { mode: 'number' }).notNull().default(0),
		kind: varchar('kind', { length: 20 }).notNull().$type<'person' | 'device' | 'link'>(),
		/** Of the person, the device or the link. */
		subjectId: idColumn('subject_id').notNull(),
		/** Of somebody with a link: as they call themselves. */
		name: varchar('name', { length: 120 }).notNull().default(''),
		createdAt: bigint('created_at', { mode: 'number' }).notNull(),
		renewedAt: bigint('renewed_at', { mode: 'number' }).notNull(),
		seenAt: bigint('seen_at', { mode: 'number' }).notNull(),
		expiresAt: bigint('expires_at', { mode: 'number' }).notNull(),
		address: varchar('address', { length: 64 }).notNull(),
		/** What the browser calls itself. */
		agent: varchar('agent', { length: 255 }).notNull(),
	},
	(table) => [index('sessions_subject').on(table.kind, table.subjectId)],
);

/** Invitations to an account, used once. */
export const invitations = mysqlTable('invitations', {
	id: idColumn('id').primaryKey(),
	hash: hashColumn('hash').notNull().unique(),
	name: varchar('name', { length: 120 }).notNull(),
	role: varchar('role', { length: 20 }).$type<Role>(),
	roleAt: json('role_at').$type<Record<string, Role>>().notNull(),
	createdAt: bigint('created_at', { mode: 'number' }).notNull(),
	expiresAt: bigint('expires_at', { mode: 'number' }).notNull(),
	usedAt: bigint('used_at', { mode: 'number' }),
});

/** Paired tablets and phones. */
export const devices = mysqlTable('devices', {
	id: idColumn('id').primaryKey(),
	name: varchar('name', { length: 120 }).notNull(),
	role: varchar('role', { length: 20 }).notNull().$type<Role>(),
	/** Null for all events. */
	eventId: idColumn('event_id'),
	/** The page that it is for, as in `Pairing`. */
	opens: varchar('opens', { length: 80 }).notNull().default(''),
	pairedAt: bigint('paired_at', { mode: 'number' }).notNull(),
	pairedBy: varchar('paired_by', { length: 120 }).notNull(),
	revokedAt: bigint('revoked_at', { mode: 'number' }),
});

/** Links for guests and for people who only look; each for one event. */
export const links = mysqlTable(
	'links',
	{
		id: idColumn('id').primaryKey(),
		hash: hashColumn('hash').notNull().unique(),
		eventId: idColumn('event_id').notNull(),
		/** For whom it is. */
		name: varchar('name', { length: 120 }).notNull(),
		role: varchar('role', { length: 20 }).notNull().$type<AnyRole>(),
		createdAt: bigint('created_at', { mode: 'number' }).notNull(),
		expiresAt: bigint('expires_at', { mode: 'number' }).notNull(),
		/** How often it may still be opened. */
		usesLeft: int('uses_left').notNull(),
		uses: int('uses').notNull().default(0),
		revokedAt: bigint('revoked_at', { mode: 'number' }),
	},
	(table) => [index('links_event').on(table.eventId)],
);

/** Who did what, where it matters afterwards. */
export const auditLines = mysqlTable(
	'audit_lines',
	{
		id: int('id').autoincrement().primaryKey(),
		at: bigint('at', { mode: 'number' }).notNull(),
		code: varchar('code', { length: 40 }).notNull().$type<AuditCode>(),
		actorKind: varchar('actor_kind', { length: 20 }).notNull(),
		actorId: idColumn('actor_id').notNull(),
		actorName: varchar('actor_name', { length: 120 }).notNull(),
		eventId: idColumn('event_id'),
		/** What its sentence needs; no secrets. */
		about: json('about').$type<Record<string, string>>().notNull(),
		address: varchar('address', { length: 64 }).notNull(),
		/** Names the row, so that one written again after a lost answer is there once. */
		entry: idColumn('entry').unique(),
	},
	(table) => [index('audit_lines_at').on(table.at)],
);

/** Tokens of other programs. */
export const programTokens = mysqlTable('program_tokens', {
	id: idColumn('id').primaryKey(),
	hash: hashColumn('hash').notNull().unique(),
	name: varchar('name', { length: 120 }).notNull(),
	role: varchar('role', { length: 20 }).notNull().$type<Role>(),
	/** The only event that it opens; null for all. */
	eventId: idColumn('event_id'),
	createdBy: varchar('created_by', { length: 120 }).notNull(),
	createdAt: bigint('created_at', { mode: 'number' }).notNull(),
	usedAt: bigint('used_at', { mode: 'number' }),
	revokedAt: bigint('revoked_at', { mode: 'number' }),
});

/** Servers that are told what happens at an event. */
export const webhooks = mysqlTable('webhooks', {
	id: idColumn('id').primaryKey(),
	eventId: idColumn('event_id').notNull(),
	url: varchar('url', { length: 500 }).notNull(),
	events: json('events').$type<string[]>().notNull(),
	/** What deliveries are signed with, see access/secrets.ts. */
	sealed: text('sealed').notNull(),
	createdAt: bigint('created_at', { mode: 'number' }).notNull(),
});

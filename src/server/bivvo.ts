/** The server as its routes see it; put together in app.ts. */
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import type { EngineReport } from '../core/show/messages.ts';
import type { SavedDestinations } from './access/saved-destinations.ts';
import type { Config } from './config.ts';
import type { Db } from './db/database.ts';
import type { Recordings } from './files/recordings.ts';
import type { Stills } from './files/stills.ts';
import type { EventDirectory } from './live/directory.ts';
import type { Rehearsals } from './rehearsal/rehearsals.ts';

export interface Health {
	database: 'ok' | 'lost';
	hub: { events: number; stored: boolean };
	broadcasts: {
		event: string;
		receiving: boolean;
		destinations: Record<string, string>;
		recording: string;
		engine: EngineReport | null;
	}[];
}

export interface Bivvo {
	config: Config;
	db: Db;
	destinations: SavedDestinations;
	stills: Stills;
	recordings: Recordings;
	/** Null where nobody can rehearse. */
	rehearsals: Rehearsals | null;
	/** Events and their live side. */
	events: EventDirectory;
	upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void;
	health(): Promise<Health>;
	seedDemo(): Promise<void>;
	close(): Promise<void>;
}

/** The server as its routes see it; put together in app.ts. */
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import type { EngineReport } from '../core/show/messages.ts';
import type { Access } from './access/access.ts';
import type { OrganisationSettings } from './access/settings.ts';
import type { Bundles } from './bundle/bundles.ts';
import type { SavedDestinations } from './access/saved-destinations.ts';
import type { Config } from './config.ts';
import type { Db } from './db/database.ts';
import type { MediaLibrary } from './files/media-library.ts';
import type { OwnRecordings } from './files/own-recordings.ts';
import type { Recordings } from './files/recordings.ts';
import type { Stills } from './files/stills.ts';
import type { Cameras } from './ingest/cameras.ts';
import type { EventDirectory } from './live/directory.ts';
import type { UplinkTickets } from './live/uplink-tickets.ts';
import type { Leases } from './nodes/leases.ts';
import type { Webhooks } from './programs/webhooks.ts';
import type { Templates } from './templates/templates.ts';
import type { SongLibrary } from './words/song-library.ts';
import type { HlsPlaces } from './hls/hls-places.ts';
import type { WatchPages } from './watch/watch-pages.ts';

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
	settings: OrganisationSettings;
	stills: Stills;
	recordings: Recordings;
	/** What guests' own browsers have recorded. */
	ownRecordings: OwnRecordings;
	/** The organisation's clips, sounds and stills. */
	media: MediaLibrary;
	songs: SongLibrary;
	/** Setups that events are made from. */
	templates: Templates;
	/** What comes from other servers. */
	bundles: Bundles;
	/** Other servers that are told what happens. */
	webhooks: Webhooks;
	/** Cameras and encoders in the network. */
	cameras: Cameras;
	/** Null where nobody can rehearse. */
	rehearsals: HlsPlaces | null;
	/** Pages of its own on which viewers watch. */
	watch: WatchPages;
	/** Events and their live side. */
	events: EventDirectory;
	/** By which a desk sends straight to this node. */
	uplinkTickets: UplinkTickets;
	/** Which events are this node's; null on a server of one. */
	leases: Leases | null;
	/** Who may come in, and who asks. */
	access: Access;
	upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void;
	health(): Promise<Health>;
	seedDemo(): Promise<void>;
	/** What nobody has caught. */
	onFault(error: unknown): void;
	close(): Promise<void>;
}

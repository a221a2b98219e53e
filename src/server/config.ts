/** Configuration from environment variables, which `./bivvo` sets; see README. */
import path from 'node:path';
import { formatISO, isSaturday, nextSaturday } from 'date-fns';
import type { ObjectStoreConfig } from './files/object-store.ts';
import { checkRelay, type RelayOptions } from './guests/relay.ts';

export interface Config {
	host: string;
	port: number;
	dataFolder: string;
	/** What all nodes see of the organisation: media, stills, finished recordings, the key; that of the data on a server of one. */
	sharedFolder: string;
	databaseUrl: string;
	migrationsFolder: string;
	/** What was built for browsers. */
	builtFolder: string;
	/** Where cameras of the network send to by RTMP; 0 for a port of the system's choice, null for none. */
	cameraPort: number | null;
	/** RTMP port of the stand-in host; null when there is none. */
	standInRtmpPort: number | null;
	/** URL of the endpoint that measures the line's upload; null when there is none. */
	lineTestUrl: string | null;
	/** Where files of the stand-ins lie: clips and words of the demo. */
	standInsFolder: string;
	/** Origins of a proxy, or names of this machine, under which pages are opened. */
	origins: string[];
	/** Proxies whose word counts for where a request comes from. */
	proxies: string[];
	/** Streams may go to this machine itself: where the stand-in host is. */
	reachesLoopback: boolean;
	/** By which guests come whose network lets nothing else through. */
	relay: RelayOptions;
	/** Where finished recordings go instead of the shared folder; null for that folder, and on a server of one. */
	objects: ObjectStoreConfig | null;
	/** What makes this process one of several that share a database; null for a server of one. */
	node: NodeConfig | null;
	/** Id of the organisation; '' for the first of the server. */
	organisation: string;
	/** When the demo event begins, in minutes from now; null for the evening it is planned for. */
	minutesToStart: number | null;
	/** The day for which the demo event is planned when `minutesToStart` is null, ISO 8601. */
	demoDay: string;
}

export interface NodeConfig {
	/** Where other nodes reach it, such as `http://10.0.0.2:5310`. */
	url: string;
	/** Where desks reach this very node, such as `https://node2.example.org`; null where they do not. */
	publicUrl: string | null;
	redisUrl: string;
}

/** @throws with a sentence when one of the first two is missing, or any is no address */
function nodeFrom({
	BIVVO_NODE_URL: url,
	BIVVO_NODE_PUBLIC_URL: publicUrl,
	REDIS_URL: redisUrl,
}: NodeJS.ProcessEnv): NodeConfig | null {
	if (!url && !redisUrl) return null;
	if (!url || !redisUrl) throw new Error('One of several nodes needs both BIVVO_NODE_URL and REDIS_URL.');
	if (!isOrigin(url)) throw new Error(`BIVVO_NODE_URL is an address such as http://10.0.0.2:5310, not ${url}.`);
	if (publicUrl && !isOrigin(publicUrl))
		throw new Error(`BIVVO_NODE_PUBLIC_URL is an address such as https://node2.example.org, not ${publicUrl}.`);
	if (!URL.canParse(redisUrl) || !/^rediss?:$/.test(new URL(redisUrl).protocol))
		throw new Error('REDIS_URL is an address such as redis://10.0.0.1:6379.');
	return { url: new URL(url).origin, publicUrl: publicUrl ? new URL(publicUrl).origin : null, redisUrl };
}

function isOrigin(url: string): boolean {
	return URL.canParse(url) && /^https?:$/.test(new URL(url).protocol) && new URL(url).pathname === '/';
}

/** @throws with a sentence when a part is missing */
function objectsFrom(env: NodeJS.ProcessEnv): ObjectStoreConfig | null {
	const { BIVVO_S3_URL: url, BIVVO_S3_KEY: accessKey, BIVVO_S3_SECRET: secretKey, BIVVO_S3_REGION: region } = env;
	if (!url) return null;
	const { protocol, origin, pathname } = URL.canParse(url) ? new URL(url) : { protocol: '', origin: '', pathname: '' };
	const [bucket, ...prefix] = pathname.split('/').filter((part) => part !== '');
	if (!/^https?:$/.test(protocol) || bucket === undefined)
		throw new Error('BIVVO_S3_URL is an address with a bucket, such as https://objects.example:9000/bivvo.');
	if (!accessKey || !secretKey) throw new Error('Object storage needs BIVVO_S3_KEY and BIVVO_S3_SECRET.');
	return { endpoint: origin, bucket, prefix: prefix.join('/'), region: region ?? 'us-east-1', accessKey, secretKey };
}

/** Today when that is a Saturday. */
function comingSaturday(now: number): Date | number {
	return isSaturday(now) ? now : nextSaturday(now);
}

/** @throws with a sentence when something needed is missing. */
export function configFromEnvironment(env: NodeJS.ProcessEnv): Config {
	if (!env.DATABASE_URL)
		throw new Error('DATABASE_URL is not set. Start Bivvo with ./bivvo start, which starts a database of its own.');
	const demoDay = env.BIVVO_DEMO_DAY ?? formatISO(comingSaturday(Date.now()), { representation: 'date' });
	if (!/^\d{4}-\d{2}-\d{2}$/.test(demoDay))
		throw new Error(`BIVVO_DEMO_DAY is a day such as 2026-11-28, not ${demoDay}.`);
	const relay = { urls: listOf(env.BIVVO_TURN_URL), secret: env.BIVVO_TURN_SECRET ?? '' };
	checkRelay(relay);
	return {
		relay,
		node: nodeFrom(env),
		objects: objectsFrom(env),
		organisation: '',
		host: env.BIVVO_HOST ?? '127.0.0.1',
		port: Number(env.BIVVO_PORT ?? 5310),
		cameraPort: env.BIVVO_CAMERA_PORT === 'none' ? null : Number(env.BIVVO_CAMERA_PORT ?? 1935),
		dataFolder: path.resolve(env.BIVVO_DATA ?? './data'),
		sharedFolder: path.resolve(env.BIVVO_SHARED ?? env.BIVVO_DATA ?? './data'),
		databaseUrl: env.DATABASE_URL,
		migrationsFolder: path.resolve(env.BIVVO_MIGRATIONS ?? './src/server/db/migrations'),
		builtFolder: path.resolve(env.BIVVO_BUILT ?? './build/client'),
		lineTestUrl: env.BIVVO_LINE_TEST ?? null,
		reachesLoopback: env.BIVVO_DEMO === '1' || env.BIVVO_REACH_LOOPBACK === '1',
		origins: listOf(env.BIVVO_ORIGIN),
		proxies: listOf(env.BIVVO_TRUST_PROXY),
		standInsFolder: path.resolve(env.BIVVO_STANDINS ?? './standins'),
		demoDay,
		minutesToStart: env.BIVVO_MINUTES_TO_START ? Number(env.BIVVO_MINUTES_TO_START) : null,
		standInRtmpPort: env.BIVVO_STANDIN_RTMP_PORT ? Number(env.BIVVO_STANDIN_RTMP_PORT) : null,
	};
}

/** Parts of a list with commas. */
function listOf(text = ''): string[] {
	return text
		.split(',')
		.map((part) => part.trim())
		.filter((part) => part !== '');
}

/** Configuration from environment variables, which `./bivvo` sets; see README. */
import path from 'node:path';

export interface Config {
	host: string;
	port: number;
	dataFolder: string;
	databaseUrl: string;
	migrationsFolder: string;
	/** RTMP port of the stand-in host; null when there is none. */
	standInRtmpPort: number | null;
	/** URL of the endpoint that measures the line's upload; null when there is none. */
	lineTestUrl: string | null;
}

/** @throws with a sentence when something needed is missing. */
export function configFromEnvironment(env: NodeJS.ProcessEnv): Config {
	if (!env.DATABASE_URL)
		throw new Error('DATABASE_URL is not set. Start Bivvo with ./bivvo start, which starts a database of its own.');
	return {
		host: env.BIVVO_HOST ?? '127.0.0.1',
		port: Number(env.BIVVO_PORT ?? 5310),
		dataFolder: path.resolve(env.BIVVO_DATA ?? './data'),
		databaseUrl: env.DATABASE_URL,
		migrationsFolder: path.resolve(env.BIVVO_MIGRATIONS ?? './src/server/db/migrations'),
		lineTestUrl: env.BIVVO_LINE_TEST ?? null,
		standInRtmpPort: env.BIVVO_STANDIN_RTMP_PORT ? Number(env.BIVVO_STANDIN_RTMP_PORT) : null,
	};
}

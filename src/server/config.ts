/** What the environment decides. `./bivvo` sets it; see README. */
import path from 'node:path';

export interface Config {
	host: string;
	port: number;
	dataFolder: string;
	databaseUrl: string;
	migrationsFolder: string;
	/** Where the stand-in host is, when there is one: offered in the destination form. */
	standInRtmpPort: number | null;
	/** Where the upload of the line is measured; null when nowhere. */
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

/** The stand-in hosted destination, a process of its own. */
import { mkdirSync } from 'node:fs';
import { openIngest, PlaceDesk } from './ingest.ts';
import { PLACES } from './places.ts';
import { openWeb } from './web.ts';

const rtmpPort = Number(process.env.BIVVO_STANDIN_RTMP_PORT ?? 19350);
const httpPort = Number(process.env.BIVVO_STANDIN_HTTP_PORT ?? 5311);
const keepFolder = process.env.BIVVO_STANDIN_KEEP ?? null;
if (keepFolder) mkdirSync(keepFolder, { recursive: true });

const desks = PLACES.map((place) => new PlaceDesk(place));
const servers = [
	{ server: openIngest(desks, keepFolder), port: rtmpPort },
	{ server: openWeb(desks, () => rtmpPort), port: httpPort },
];
for (const { server, port } of servers) {
	server.on('error', (error: NodeJS.ErrnoException) => {
		const taken = error.code === 'EADDRINUSE';
		console.error(
			taken ? `Port ${port} is in use by another program.` : `The stand-in host cannot start: ${error.message}`,
		);
		process.exit(1);
	});
	server.listen(port, '127.0.0.1');
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));

/** The stand-in host within the test's own process, on ports of the system's choice. */
import net, { type AddressInfo } from 'node:net';
import type http from 'node:http';
import { openIngest, PlaceDesk } from '../../standins/host/ingest.ts';
import { PLACES } from '../../standins/host/places.ts';
import { openWeb } from '../../standins/host/web.ts';

export interface TestHost {
	rtmpPort: number;
	url: string;
	desk(app: string): PlaceDesk;
	close(): Promise<void>;
}

export async function openHost(keepFolder: string | null = null): Promise<TestHost> {
	const desks = PLACES.map((place) => new PlaceDesk(place));
	const ingest = openIngest(desks, keepFolder);
	const rtmpPort = await listen(ingest);
	const web = openWeb(desks, () => rtmpPort);
	const url = `http://127.0.0.1:${await listen(web)}`;
	return {
		rtmpPort,
		url,
		desk: (app) => desks.find(({ place }) => place.app === app)!,
		async close() {
			for (const { current } of desks) current?.destroy();
			await Promise.all([ingest, web].map((server) => new Promise((resolve) => server.close(resolve))));
		},
	};
}

export async function listen(server: net.Server | http.Server, port = 0): Promise<number> {
	await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
	return (server.address() as AddressInfo).port;
}

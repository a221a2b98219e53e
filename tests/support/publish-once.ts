/** Publishes to the address and key given, prints the phase it reaches, and waits to be ended. */
import { Publisher } from '../../src/server/broadcast/publisher.ts';
import { orderTo } from './order.ts';

const [address, key] = process.argv.slice(2) as [string, string];
const order = orderTo(address, key);
const about = { rendition: 0, bitrateKbps: 1, description: new Uint8Array(8) };
const publisher = new Publisher(order, () => {
	const { phase, fault } = publisher.status;
	if (phase !== 'connecting' && phase !== 'off') console.log(fault?.code ?? phase);
});
publisher.configure(
	{ kind: 'videoConfig', width: 640, height: 360, fps: 30, ...about },
	{ kind: 'audioConfig', sampleRate: 48_000, channels: 2, ...about },
);

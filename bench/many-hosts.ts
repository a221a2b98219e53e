/** A process of many hosts in one: takes every stream that comes; those of application "deaf" stop reading at once. */
import { randomBytes } from 'node:crypto';
import net, { type AddressInfo } from 'node:net';
import { RtmpIngestSession } from '../src/core/delivery/rtmp/server.ts';

const counts = { pictures: 0, closed: 0 };
const server = net.createServer((socket) => {
	let deaf = false;
	const session: RtmpIngestSession = new RtmpIngestSession(
		randomBytes(1528),
		(bytes) => void socket.write(bytes),
		({ app }) => {
			deaf = app === 'deaf';
			return null;
		},
		(event) => {
			if (event.kind === 'video') counts.pictures++;
			if (deaf) socket.pause();
		},
	);
	socket.on('data', (bytes) => session.receive(bytes));
	socket.on('error', () => socket.destroy());
	socket.on('close', () => counts.closed++);
});
server.listen(0, '127.0.0.1', () => process.send!({ port: (server.address() as AddressInfo).port }));
process.on('message', () => process.send!(counts));
process.on('disconnect', () => process.exit(0));

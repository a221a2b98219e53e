/** The process of a weak line, see weak-line.ts. It tells its port, and is told how weak to be. */
import { createSocket, type Socket } from 'node:dgram';
import type { Weakness } from './weak-line.ts';

const relayPort = Number(process.argv[2]);
const front = createSocket('udp4');
/** One socket towards the relay for each of the browser's. */
const backs = new Map<number, Socket>();
let weakness: Weakness = { loses: 0, unevenMs: 0 };
process.on('message', (message) => (weakness = message as Weakness));

function carry(socket: Socket, packet: Buffer, port: number): void {
	if (Math.random() < weakness.loses) return;
	const send = () => socket.send(packet, port, '127.0.0.1');
	if (weakness.unevenMs === 0) send();
	else setTimeout(send, Math.random() * weakness.unevenMs);
}

function backFor(port: number): Socket {
	const known = backs.get(port);
	if (known) return known;
	const back = createSocket('udp4');
	back.on('message', (answer) => carry(front, answer, port));
	backs.set(port, back);
	return back;
}

front.on('message', (packet, { port }) => carry(backFor(port), packet, relayPort));
front.bind(0, '127.0.0.1', () => process.send!(front.address().port));

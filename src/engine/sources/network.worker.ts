/** The worker of one camera in the network: its socket, its decoders, and the way to the picture worker and the sound worklet. */
import { decodeFeed } from '../../core/ingest/feed.ts';
import type { LineSignal } from '../../core/ingest/signal.ts';
import { ServerSocket } from '../server-socket.ts';
import { CameraDecoder } from './camera-decoder.ts';
import type { FromNetwork, ToNetwork } from './network-messages.ts';

let socket: ServerSocket | null = null;
let decoder: CameraDecoder | null = null;
let picture: MessagePort | null = null;
let sound: MessagePort | null = null;
const tell = (message: FromNetwork) => postMessage(message);

onmessage = ({ data }: MessageEvent<ToNetwork>) => {
	if (data.type === 'open') connect(data.url);
	else if (data.type === 'answer') socket?.send(JSON.stringify(data.answer));
	else ({ picture, sound } = data);
};

function connect(url: string): void {
	socket = new ServerSocket(url);
	socket.onheard = (data) => {
		if (typeof data === 'string') tell({ type: 'signal', signal: JSON.parse(data) as LineSignal });
		else receive(new Uint8Array(data));
	};
	// What the camera sends meanwhile is missed; the server says anew what there is.
	socket.onclose = () => {
		if (decoder) end();
	};
}

function receive(bytes: Uint8Array): void {
	const packet = decodeFeed(bytes);
	if (packet.kind === 'gone') {
		end();
		return tell({ type: 'gone', why: packet.why });
	}
	if (packet.kind !== 'begun') return decoder?.take(packet);
	end();
	decoder = new CameraDecoder({
		onFrame: (frame) => (picture ? picture.postMessage(frame, [frame]) : frame.close()),
		onSound: (piece) => sound?.postMessage(piece),
		onUndecodable: () => {
			end();
			tell({ type: 'gone', why: 'otherCodec' });
		},
		now: () => performance.now(),
	});
	tell({ type: 'begun' });
}

function end(): void {
	decoder?.close();
	decoder = null;
}

/** The worker of one clip: reads and decodes it for the picture worker and the sound worklet. */
import type { ClipOrder, FromClip, FromClipToPage, ToClip } from './clip-messages.ts';
import { ClipReader } from './clip-reader.ts';
import { installGate } from './decode-gate.ts';
import { faultOf } from './fault.ts';

installGate(self);

const tell = (message: FromClipToPage) => postMessage(message);

onmessage = ({ data: { clip, urls, memory, port } }: MessageEvent<ClipOrder>) => {
	const send = (message: FromClip, transfer: Transferable[] = []) => port.postMessage(message, transfer);
	const name = clip.items[0]!.name;
	const failed = (error: unknown) => tell({ type: 'failed', fault: faultOf(error, name) });
	const reader = new ClipReader({
		clip,
		urlOf: ({ mediaId }) => urls[mediaId]!,
		memory,
		onFrame: (run, frame, positionMs) => send({ type: 'frame', run, frame, positionMs }, [frame]),
		onReady: (run) => send({ type: 'ready', run }),
		onFault: failed,
	});
	port.onmessage = ({ data: message }: MessageEvent<ToClip>) => {
		if (message.type === 'reached') return reader.reached(message.positionMs);
		if (message.type === 'hurry') return reader.hurry();
		const { run, positionMs, seed, ahead, hurry } = message;
		reader.prepare({ number: run, positionMs, seed, ahead, hurry });
	};
	reader.open().then((size) => tell({ type: 'opened', size }), failed);
};

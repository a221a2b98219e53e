/** The WebSocket on which a desk gets what a camera sends: media as they come, and the steps of WHIP as JSON. */
import * as v from 'valibot';
import type { WebSocket } from 'ws';
import { MOST_OFFER_BYTES } from '../../core/ingest/whip.ts';
import type { LineSignal } from '../../core/ingest/signal.ts';
import type { IceServer } from '../../core/guests/messages.ts';
import type { Cameras, Line } from './cameras.ts';

const answerSchema = v.object({
	is: v.literal('answer'),
	session: v.pipe(v.string(), v.maxLength(64)),
	/** Null refuses the offer, or says that its connection has failed. */
	sdp: v.nullable(v.pipe(v.string(), v.maxLength(MOST_OFFER_BYTES))),
});

/**
 * @param isTheirs whether the desk still makes the program
 * @param onWrong called when it sends something else
 */
export function joinCamera(
	webSocket: WebSocket,
	cameras: Cameras,
	cameraId: string,
	iceServers: () => readonly IceServer[],
	isTheirs: () => boolean,
	onWrong: () => void,
): void {
	const signal = (message: LineSignal) => webSocket.send(JSON.stringify(message));
	const line: Line = {
		send: (packet) => webSocket.send(packet),
		get waiting() {
			return webSocket.bufferedAmount;
		},
		offer: (session, sdp) => signal({ is: 'offer', session, sdp, iceServers: [...iceServers()] }),
		end: (session) => signal({ is: 'end', session }),
	};
	webSocket.on('close', cameras.join(cameraId, line));
	webSocket.on('message', (data, isBinary) => {
		const answer = isBinary ? null : v.safeParse(answerSchema, parsed(String(data)));
		if (!answer?.success || !isTheirs()) return onWrong();
		cameras.answer(line, answer.output.session, answer.output.sdp);
	});
}

function parsed(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}

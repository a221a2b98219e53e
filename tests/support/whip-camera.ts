/** A page as a camera that sends by WHIP (RFC 9725): one colour with something that moves, and a tone. */
import type { Page } from '@playwright/test';

/** Runs in a page of any origin. Its connection is kept in `window.sent`; `window.paint` gives it another colour. */
const SEND = `async ({ address, key, colour }) => {
	const canvas = Object.assign(document.createElement('canvas'), { width: 640, height: 360 });
	document.body.append(canvas);
	const context = canvas.getContext('2d');
	let painted = colour;
	let count = 0;
	const draw = () => {
		context.fillStyle = painted;
		context.fillRect(0, 0, 640, 360);
		context.fillStyle = '#ffffff';
		context.fillRect((count++ * 7) % 640, 0, 20, 40);
	};
	window.paint = (other) => {
		painted = other;
		draw();
		return performance.timeOrigin + performance.now();
	};
	setInterval(draw, 33);
	const audio = new AudioContext();
	const oscillator = new OscillatorNode(audio, { frequency: 440 });
	const out = audio.createMediaStreamDestination();
	oscillator.connect(out);
	oscillator.start();
	const peer = new RTCPeerConnection();
	for (const track of [...canvas.captureStream(30).getTracks(), ...out.stream.getTracks()])
		peer.addTransceiver(track, { direction: 'sendonly' });
	await peer.setLocalDescription();
	await new Promise((resolve) => {
		if (peer.iceGatheringState === 'complete') resolve();
		else peer.addEventListener('icegatheringstatechange', () => peer.iceGatheringState === 'complete' && resolve());
	});
	const headers = { Authorization: 'Bearer ' + key, 'Content-Type': 'application/sdp' };
	const response = await fetch(address, { method: 'POST', headers, body: peer.localDescription.sdp });
	if (response.status !== 201) return response.status;
	await peer.setRemoteDescription({ type: 'answer', sdp: await response.text() });
	const place = new URL(response.headers.get('Location'), address).href;
	window.sent = { peer, end: () => fetch(place, { method: 'DELETE', headers }).then((ended) => ended.status) };
	return response.status;
}`;

/** @throws when the offer is not taken */
export async function offerByWhip(page: Page, address: string, key: string, colour: string): Promise<void> {
	const status = await page.evaluate<number>(`(${SEND})(${JSON.stringify({ address, key, colour })})`);
	if (status !== 201) throw new Error(`The offer was answered with ${status}`);
}

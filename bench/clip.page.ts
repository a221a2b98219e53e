/** Runs in Chromium: decodes a file as fast as it is played, and does nothing else with it. Bundled and called by clip.ts. */
import { ALL_FORMATS, EncodedPacketSink, Input, UrlSource } from 'mediabunny';

/** @returns pictures decoded */
export async function decodeInTime(url: string, seconds: number): Promise<number> {
	const input = new Input({ source: new UrlSource(new URL(url, location.origin).href), formats: ALL_FORMATS });
	const track = (await input.getPrimaryVideoTrack())!;
	let decoded = 0;
	const decoder = new VideoDecoder({
		output(frame) {
			decoded++;
			frame.close();
		},
		error: (error) => console.error(error),
	});
	decoder.configure((await track.getDecoderConfig())!);
	const startedAt = performance.now();
	for await (const packet of new EncodedPacketSink(track).packets()) {
		const waitMs = packet.timestamp * 1000 - (performance.now() - startedAt);
		if (packet.timestamp > seconds) break;
		if (waitMs > 4) await new Promise((resolve) => setTimeout(resolve, waitMs));
		decoder.decode(packet.toEncodedVideoChunk());
	}
	await decoder.flush();
	decoder.close();
	input.dispose();
	return decoded;
}

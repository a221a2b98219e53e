/** Where a camera sends to, as its form says: addresses of this server as a camera in the same network reaches them. */
import { networkInterfaces } from 'node:os';
import { isIP } from 'node:net';
import ipaddr from 'ipaddr.js';
import type { CameraPlace } from '../../core/ingest/place.ts';

/** Path of the RTMP address. Any is taken; what matters is the key. */
export const CAMERA_APP = 'camera';

/**
 * @param origin of this server's pages, as whoever asks sees it
 * @param host on which the server listens
 * @param listener null where nobody can connect
 */
export function cameraPlace(
	origin: string,
	host: string,
	listener: { port: number | null; isSecure: boolean } | null,
): CameraPlace {
	const { hostname } = new URL(origin);
	const isListening = listener?.port != null;
	const reaches = isLoopback(host) ? 'machine' : 'network';
	// Who sits at the machine reads an address that nobody else can use.
	const name = reaches === 'network' && isLoopback(hostname) ? (ownAddress() ?? hostname) : hostname;
	const rtmp = (scheme: string) => `${scheme}://${name}:${listener!.port}/${CAMERA_APP}`;
	const whip = new URL('/whip', origin);
	whip.hostname = name;
	return {
		reaches,
		rtmp: isListening ? rtmp('rtmp') : null,
		rtmps: isListening && listener.isSecure ? rtmp('rtmps') : null,
		whip: whip.href,
	};
}

function isLoopback(host: string): boolean {
	const plain = host.replace(/^\[|\]$/g, '');
	return plain === 'localhost' || (isIP(plain) !== 0 && ipaddr.process(plain).range() === 'loopback');
}

/** An address of this machine in its network; null when it is in none. */
function ownAddress(): string | null {
	const all = Object.values(networkInterfaces()).flatMap((each) => each ?? []);
	return all.find(({ internal, family }) => !internal && family === 'IPv4')?.address ?? null;
}

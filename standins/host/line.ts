/** The test endpoint: takes what is sent for a while, no faster than a village's line would carry it, and counts. */
import type http from 'node:http';

const MOST_MS = 10_000;

/**
 * Reads the body until `ms` of its query have passed since the first byte, and answers `{ bytes, ms }`.
 * @param lineKbps upload of the line that is stood in for
 */
export function countUpload(request: http.IncomingMessage, response: http.ServerResponse, lineKbps: number): void {
	const asked = Number(new URLSearchParams((request.url ?? '').split('?')[1]).get('ms'));
	const lastsMs = Math.min(MOST_MS, Math.max(100, asked || 2000));
	let startedAt = 0;
	let bytes = 0;
	const finish = () => {
		const ms = performance.now() - startedAt;
		response.setHeader('Content-Type', 'application/json');
		response.setHeader('Connection', 'close');
		// What has been read may be ahead of the line; that part has not arrived yet.
		response.end(JSON.stringify({ bytes: Math.min(bytes, Math.round((lineKbps * ms) / 8)), ms: Math.round(ms) }));
	};
	request.on('data', (part: Buffer) => {
		if (startedAt === 0) {
			startedAt = performance.now();
			setTimeout(finish, lastsMs);
		}
		bytes += part.length;
		const aheadMs = (bytes * 8) / lineKbps - (performance.now() - startedAt);
		if (aheadMs < 5) return;
		request.pause();
		setTimeout(() => request.resume(), aheadMs);
	});
	request.on('error', () => {});
}

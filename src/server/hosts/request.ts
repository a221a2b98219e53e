/** One request to a host on behalf of somebody who has typed its address. */
import http from 'node:http';
import https from 'node:https';
import type { Reach } from '../broadcast/reach.ts';

const PATIENCE_MS = 5000;
/** No host has more than this to say at a time. */
const MOST_ANSWER_BYTES = 512 * 1024;

export interface Asked {
	method: string;
	headers: Record<string, string>;
	body?: string | Uint8Array | undefined;
}

export interface Told {
	status: number;
	isOk: boolean;
	headers: http.IncomingHttpHeaders;
	text: string;
}

/** Whether an address may be asked: by https, or on this machine where that may be reached. */
export function isProtected(url: URL, reach: Reach): boolean {
	return (
		url.protocol === 'https:' || (url.protocol === 'http:' && isLoopbackName(url.hostname) && reach.covers('127.0.0.1'))
	);
}

/** It goes to the address that was looked at, and follows no other. @throws with a sentence */
export function request(url: URL, reach: Reach, { method, headers, body }: Asked): Promise<Told> {
	if (!isProtected(url, reach))
		throw new Error('An account is asked by https only, so that nobody on the way reads its access code.');
	return new Promise((resolve, reject) => {
		const unanswered = () => reject(new Error('The host’s account does not answer.'));
		try {
			reach.check(url.hostname);
		} catch {
			return unanswered();
		}
		const asked = (url.protocol === 'https:' ? https : http).request(
			url,
			{ method, lookup: reach.lookup, headers, signal: AbortSignal.timeout(PATIENCE_MS) },
			(response) => {
				const parts: Buffer[] = [];
				let bytes = 0;
				const status = response.statusCode ?? 0;
				const tell = (text: string) =>
					resolve({ status, isOk: status >= 200 && status < 300, headers: response.headers, text });
				response.on('data', (part: Buffer) => {
					bytes += part.length;
					if (bytes <= MOST_ANSWER_BYTES) return void parts.push(part);
					tell('');
					asked.destroy();
				});
				response.on('error', unanswered);
				response.on('end', () => tell(Buffer.concat(parts).toString('utf8')));
			},
		);
		asked.on('error', unanswered);
		asked.end(body);
	});
}

function isLoopbackName(hostname: string): boolean {
	return hostname === 'localhost' || hostname === '127.0.0.1' || hostname === '[::1]';
}

/** Null for what is no JSON. */
export function parsed(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}

/** Measures how much this server can upload: sends bytes to a test endpoint, which tells how many it got in what time. */
import http from 'node:http';
import https from 'node:https';
import * as v from 'valibot';

export const RUNS = 3;
const RUN_MS = 2000;
/** Beyond the run itself: to connect, and for the answer. */
const PATIENCE_MS = 8000;
const CHUNK = Buffer.alloc(64 * 1024, 0x5a);

const answerSchema = v.object({ bytes: v.pipe(v.number(), v.minValue(0)), ms: v.pipe(v.number(), v.minValue(1)) });

/**
 * @param endpoint takes a POST and answers, `ms` milliseconds after its first byte, with `{ bytes, ms }` as JSON
 * @returns upload of each run, kbit/s
 * @throws with a sentence when the endpoint cannot be used
 */
export async function measureLine(endpoint: string, runs = RUNS): Promise<number[]> {
	const results: number[] = [];
	for (let i = 0; i < runs; i++) results.push(await run(endpoint));
	return results;
}

function run(endpoint: string): Promise<number> {
	const url = new URL(endpoint);
	url.searchParams.set('ms', String(RUN_MS));
	return new Promise((resolve, reject) => {
		const fail = (why: string) => {
			request.destroy();
			reject(new Error(`The line could not be measured: ${why}. Nothing has changed; try again.`));
		};
		const request = (url.protocol === 'https:' ? https : http).request(url, { method: 'POST' }, (response) => {
			let text = '';
			response.setEncoding('utf8').on('data', (part: string) => {
				text += part;
				if (text.length > 1000) fail('the test endpoint answered something else');
			});
			response.on('end', () => {
				const answer = v.safeParse(answerSchema, parsed(text));
				if (!answer.success) return fail('the test endpoint answered something else');
				request.destroy();
				resolve(Math.round((answer.output.bytes * 8) / answer.output.ms));
			});
		});
		const timer = setTimeout(() => fail('the test endpoint does not answer'), RUN_MS + PATIENCE_MS);
		request.on('error', (error: NodeJS.ErrnoException) =>
			fail(error.code === 'ECONNREFUSED' ? 'nothing answers at the test endpoint' : (error.code ?? error.message)),
		);
		request.on('close', () => clearTimeout(timer));
		const send = () => {
			while (!request.destroyed && !request.writableEnded) if (!request.write(CHUNK)) return;
		};
		request.on('drain', send);
		send();
	});
}

function parsed(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
}

/** Answers with a file of the disk, or the range of it that a player asks for. */
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { rangeOf } from '$server/files/range.ts';

/** @param headers of the answer beside length and range */
export function serveFile(
	{ path, bytes }: { path: string; bytes: number },
	request: Request,
	headers: Record<string, string>,
): Response {
	const range = rangeOf(request.headers.get('range'), bytes);
	if (range === 'impossible')
		return new Response(null, { status: 416, headers: { 'Content-Range': `bytes */${bytes}` } });
	const { from, to } = range ?? { from: 0, to: bytes - 1 };
	const all: Record<string, string> = { ...headers, 'Accept-Ranges': 'bytes', 'Content-Length': String(to - from + 1) };
	if (range) all['Content-Range'] = `bytes ${from}-${to}/${bytes}`;
	// What has just been begun has nothing in it yet.
	if (bytes === 0) return new Response(null, { headers: all });
	const stream = createReadStream(path, { start: from, end: to });
	return new Response(Readable.toWeb(stream) as ReadableStream, { status: range ? 206 : 200, headers: all });
}

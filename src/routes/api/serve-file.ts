/** Answers with a file, or the range of it that a player asks for. */
import { Readable } from 'node:stream';
import { rangeOf } from '$server/files/range.ts';

/** A file, wherever it lies. */
interface Served {
	bytes: number;
	/** Bytes `from` to `to` of it, both included. */
	read: (from: number, to: number) => Readable | Promise<Readable>;
}

/** @param headers of the answer beside length and range */
export async function serveFile(
	{ bytes, read }: Served,
	request: Request,
	headers: Record<string, string>,
): Promise<Response> {
	const range = rangeOf(request.headers.get('range'), bytes);
	if (range === 'impossible')
		return new Response(null, { status: 416, headers: { 'Content-Range': `bytes */${bytes}` } });
	const { from, to } = range ?? { from: 0, to: bytes - 1 };
	const all: Record<string, string> = { ...headers, 'Accept-Ranges': 'bytes', 'Content-Length': String(to - from + 1) };
	if (range) all['Content-Range'] = `bytes ${from}-${to}/${bytes}`;
	// What has just been begun has nothing in it yet.
	if (bytes === 0) return new Response(null, { headers: all });
	return new Response(Readable.toWeb(await read(from, to)) as ReadableStream, {
		status: range ? 206 : 200,
		headers: all,
	});
}

import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { rangeOf } from '$server/files/range.ts';
import { wantRecording } from '../want.ts';
import type { RequestHandler } from './$types';

/** The file itself, or a range of it as players ask for; `?download` gives it its name. */
export const GET: RequestHandler = async ({ params, locals, request, url }) => {
	const found = await wantRecording(locals.bivvo, params);
	const range = rangeOf(request.headers.get('range'), found.bytes);
	if (range === 'impossible')
		return new Response(null, { status: 416, headers: { 'Content-Range': `bytes */${found.bytes}` } });
	const { from, to } = range ?? { from: 0, to: found.bytes - 1 };
	const headers: Record<string, string> = {
		'Content-Type': found.kind === 'channel' ? 'audio/wav' : 'video/mp4',
		'Accept-Ranges': 'bytes',
		'Content-Length': String(to - from + 1),
		'Cache-Control': 'no-store',
	};
	if (range) headers['Content-Range'] = `bytes ${from}-${to}/${found.bytes}`;
	if (url.searchParams.has('download')) headers['Content-Disposition'] = `attachment; filename="${found.file}"`;
	// What has just been begun has nothing in it yet.
	if (found.bytes === 0) return new Response(null, { headers });
	const stream = createReadStream(found.path, { start: from, end: to });
	return new Response(Readable.toWeb(stream) as ReadableStream, { status: range ? 206 : 200, headers });
};

const changeSchema = v.object({ deleted: v.boolean() });

/** Deletes a recording, or brings it back. */
export const PATCH: RequestHandler = async ({ params, locals, request }) => {
	const found = await wantRecording(locals.bivvo, params);
	const change = v.safeParse(changeSchema, await request.json().catch(() => null));
	if (!change.success) error(400, change.issues[0].message);
	if (found.endedAt === null && change.output.deleted)
		error(409, 'This is being recorded now. End the broadcast first.');
	await locals.bivvo.recordings.setDeleted(params.id, found.id, change.output.deleted);
	return json({ ok: true });
};

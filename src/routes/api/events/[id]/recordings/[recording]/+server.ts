import path from 'node:path';
import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { serveFile } from '../../../../serve-file.ts';
import { wantRecording } from '../want.ts';
import type { RequestHandler } from './$types';

const TYPES: Record<string, string> = { '.wav': 'audio/wav', '.mkv': 'video/x-matroska' };

/** The file itself, or a range of it as players ask for; `?download` gives it its name. */
export const GET: RequestHandler = async ({ params, locals, request, url }) => {
	const found = await wantRecording(locals.bivvo, params);
	const headers: Record<string, string> = {
		'Content-Type': TYPES[path.extname(found.file)] ?? 'video/mp4',
		'Cache-Control': 'no-store',
	};
	if (url.searchParams.has('download')) headers['Content-Disposition'] = `attachment; filename="${found.file}"`;
	return serveFile(found, request, headers);
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

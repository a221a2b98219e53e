import { createReadStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { Readable } from 'node:stream';
import { error } from '@sveltejs/kit';
import { copyPart } from '$server/files/copy-part.ts';
import { wantRecording } from '../../want.ts';
import type { RequestHandler } from './$types';

/** The sound alone, as it was sent: AAC in an M4A file. */
export const GET: RequestHandler = async ({ params, locals }) => {
	const found = await wantRecording(locals.bivvo, params);
	const { recordings } = locals.bivvo;
	const file = path.join(await recordings.placeFor(found.eventId), `${found.file}.${randomUUID()}.m4a`);
	const part = { fromS: 0, toS: Infinity, soundOnly: true };
	await recordings
		.withFiles([found], ([whole]) => copyPart(whole!, file, part))
		.catch((problem: Error) => error(422, `The sound cannot be taken out: ${problem.message}`));
	const stream = createReadStream(file);
	stream.once('close', () => void rm(file, { force: true }));
	return new Response(Readable.toWeb(stream) as ReadableStream, {
		headers: {
			'Content-Type': 'audio/mp4',
			'Content-Length': String((await stat(file)).size),
			'Content-Disposition': `attachment; filename="${found.file.replace(/\.mp4$/, '.m4a')}"`,
		},
	});
};

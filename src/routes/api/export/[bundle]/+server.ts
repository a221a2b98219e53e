import { Readable } from 'node:stream';
import { answering } from '../../../answer.ts';
import type { RequestHandler } from './$types';

/** The zip that was offered. */
export const GET: RequestHandler = answering(async ({ locals, params }) => {
	const { stream } = await locals.bivvo.bundles.fetch(params.bundle);
	const name = `bivvo-${new Date().toISOString().slice(0, 10)}.zip`;
	return new Response(Readable.toWeb(stream) as ReadableStream, {
		headers: { 'Content-Type': 'application/zip', 'Content-Disposition': `attachment; filename="${name}"` },
	});
});

import { json } from '@sveltejs/kit';
import type { ReadableStream } from 'node:stream/web';
import { answering } from '../../answer.ts';
import type { RequestHandler } from './$types';

/** Receives a bundle, and says what is in it. Nothing is taken in yet. */
export const POST: RequestHandler = answering(async ({ locals, request }) =>
	json(await locals.bivvo.bundles.receive(request.body as ReadableStream | null)),
);

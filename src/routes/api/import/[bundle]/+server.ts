import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { answering, bodyOf } from '../../../answer.ts';
import { note } from '../../access/acting.ts';
import type { RequestHandler } from './$types';

const takeSchema = v.object({ passphrase: v.nullable(v.pipe(v.string(), v.maxLength(200))) });

/** Takes in a bundle that was received. */
export const POST: RequestHandler = answering(async ({ locals, params, request }) => {
	const { passphrase } = await bodyOf(request, takeSchema);
	const taken = await locals.bivvo.bundles.take(params.bundle, passphrase);
	note(locals, 'imported', { count: String(taken.events.length) });
	return json(taken);
});

export const DELETE: RequestHandler = answering(async ({ locals, params }) => {
	await locals.bivvo.bundles.drop(params.bundle);
	return json({});
});

import { json } from '@sveltejs/kit';
import { answering } from '../../../../answer.ts';
import type { RequestHandler } from './$types';

export const DELETE: RequestHandler = answering(async ({ params, locals }) => {
	await locals.bivvo.access.people.takeBack(params.invitation);
	return json({ ok: true });
});

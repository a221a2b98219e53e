import { json } from '@sveltejs/kit';
import { answering } from '../../../../answer.ts';
import type { RequestHandler } from './$types';

/** Whether a code still waits for its device. */
export const GET: RequestHandler = answering(async ({ params, locals }) =>
	json({ waits: locals.bivvo.access.devices.waits(params.code) }),
);

export const DELETE: RequestHandler = answering(async ({ params, locals }) => {
	locals.bivvo.access.devices.withdraw(params.code);
	return json({ ok: true });
});

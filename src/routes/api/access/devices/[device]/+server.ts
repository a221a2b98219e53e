import { json } from '@sveltejs/kit';
import { answering } from '../../../../answer.ts';
import { note } from '../../acting.ts';
import type { RequestHandler } from './$types';

/** Takes a device's rights; what it has open closes at once. */
export const DELETE: RequestHandler = answering(async ({ params, locals }) => {
	const { access } = locals.bivvo;
	const name = access.devices.get(params.device)?.name ?? '';
	await access.devices.revoke(params.device);
	await access.sessions.endAll('device', params.device);
	note(locals, 'deviceRevoked', { name });
	return json({ ok: true });
});

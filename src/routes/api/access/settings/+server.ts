import { json } from '@sveltejs/kit';
import { settingsSchema } from '$server/access/settings.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { note } from '../acting.ts';
import type { RequestHandler } from './$types';

/** Sets what holds for all of the organisation. */
export const PUT: RequestHandler = answering(async ({ request, locals }) => {
	const settings = await bodyOf(request, settingsSchema);
	await locals.bivvo.settings.set(settings);
	note(locals, 'settingsChanged', { reachesLocal: settings.reachesLocal ? 'yes' : 'no' });
	return json({ ok: true });
});

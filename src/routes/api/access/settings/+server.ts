import { json } from '@sveltejs/kit';
import { refuse } from '$core/refusal.ts';
import { settingsSchema } from '$server/access/settings.ts';
import { takeFolder } from '$server/files/recording-folders.ts';
import { answering, bodyOf } from '../../../answer.ts';
import { note } from '../acting.ts';
import type { RequestHandler } from './$types';

/** Sets what holds for all of the organisation. */
export const PUT: RequestHandler = answering(async ({ request, locals }) => {
	const settings = await bodyOf(request, settingsSchema);
	const before = locals.bivvo.settings.now;
	const { recordingsFolder: folder, reachesLocal } = settings;
	if (folder !== before.recordingsFolder) {
		// Folders of the machine are chosen by whom it belongs to: one organisation could write into another's otherwise.
		if (locals.bivvo !== globalThis.organisations!.first) throw refuse('forbidden', { who: ['owner'] });
		if (folder !== '') await takeFolder(folder);
	}
	await locals.bivvo.settings.set(settings);
	if (reachesLocal !== before.reachesLocal)
		note(locals, 'settingsChanged', { reachesLocal: reachesLocal ? 'yes' : 'no' });
	if (folder !== before.recordingsFolder) note(locals, 'recordingsMoved', { folder });
	return json({ ok: true });
});

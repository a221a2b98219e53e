import { json } from '@sveltejs/kit';
import { profileSchema } from '$core/hosts/profile.ts';
import { answering, bodyOf } from '../../answer.ts';
import { note } from '../access/acting.ts';
import type { RequestHandler } from './$types';

/** Hosts that the organisation is signed in to, without anything secret. */
export const GET: RequestHandler = ({ locals }) => json({ hosts: locals.bivvo.destinations.signIns.list });

/** Makes a host known by its profile; somebody signs in afterwards. */
export const POST: RequestHandler = answering(async ({ request, locals }) => {
	const profile = await bodyOf(request, profileSchema);
	const id = await locals.bivvo.destinations.signIns.add(profile);
	note(locals, 'hostAdded', { name: profile.name });
	return json({ id });
});

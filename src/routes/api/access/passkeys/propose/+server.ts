import { json } from '@sveltejs/kit';
import { answering } from '../../../../answer.ts';
import { personOf } from '../../acting.ts';
import type { RequestHandler } from './$types';

/** What a browser needs to make a passkey for whoever is signed in. */
export const POST: RequestHandler = answering(async ({ locals }) => {
	const { access } = locals.bivvo;
	return json(await access.passkeys.proposeFor(personOf(locals), locals.admitted.origin));
});

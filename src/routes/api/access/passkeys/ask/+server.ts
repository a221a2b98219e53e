import { json } from '@sveltejs/kit';
import { answering } from '../../../../answer.ts';
import type { RequestHandler } from './$types';

/** What a browser needs to show a passkey. */
export const POST: RequestHandler = answering(async ({ locals }) => {
	const { access } = locals.bivvo;
	await access.limit('signIn', locals.admitted.address);
	return json(await access.passkeys.ask(locals.admitted.origin));
});

import { json } from '@sveltejs/kit';
import { refuse, Refusal } from '$core/refusal.ts';
import { isOnAir } from '$core/show/state.ts';
import { refusalWords } from '$lib/words/index.ts';
import { connectSigned, signedFormSchema } from '$server/access/destination-form.ts';
import { answering, bodyOf, eventOf, sayingAsHost } from '../../../../../answer.ts';
import type { RequestHandler } from './$types';

function whyFailed(failed: unknown): string {
	return failed instanceof Refusal ? refusalWords(failed.reason) : (failed as Error).message;
}

/** Plans this event at places of a host that is signed in to; answers what came of each. */
export const POST: RequestHandler = answering(async (event) => {
	const room = await eventOf(event);
	if (isOnAir(room.hub.state)) throw refuse('whileOnAir', { what: 'details' });
	await event.locals.bivvo.access.limit('outgoing', event.locals.admitted.address);
	const form = await bodyOf(event.request, signedFormSchema);
	const done = await connectSigned(event.locals.bivvo, room, form).catch(sayingAsHost);
	return json({
		places: done.map(({ name, failed }) => ({ name, problem: failed === null ? '' : whyFailed(failed) })),
	});
});

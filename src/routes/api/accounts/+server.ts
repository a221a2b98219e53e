import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { connectFormSchema } from '$server/access/destination-form.ts';
import { listPlaces } from '$server/hosts/host-account.ts';
import { answering, bodyOf, sayingAsHost } from '../../answer.ts';
import { note } from '../access/acting.ts';
import type { RequestEvent } from './$types';

const accountSchema = v.omit(connectFormSchema, ['placeId']);

/** The places that a host's account may post to; nothing is stored. */
export const POST = answering(async ({ request, locals }: RequestEvent) => {
	await locals.bivvo.access.limit('outgoing', locals.admitted.address);
	const { url, token } = await bodyOf(request, accountSchema);
	note(locals, 'accountConnected', { name: new URL(url).host });
	return json({ places: await listPlaces(url, token, locals.bivvo.destinations.reach).catch(sayingAsHost) });
});

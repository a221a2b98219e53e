import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { connectFormSchema } from '$server/access/destination-form.ts';
import { listPlaces } from '$server/broadcast/host-account.ts';
import { answering, bodyOf, sayingAsHost } from '../../answer.ts';
import type { RequestEvent } from './$types';

const accountSchema = v.omit(connectFormSchema, ['placeId']);

/** The places that a host's account may post to; nothing is stored. */
export const POST = answering(async ({ request }: RequestEvent) => {
	// A form of another site cannot send this type.
	if (request.headers.get('content-type') !== 'application/json') error(415, 'This asks for JSON.');
	const { url, token } = await bodyOf(request, accountSchema);
	return json({ places: await listPlaces(url, token).catch(sayingAsHost) });
});

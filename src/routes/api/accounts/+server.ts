import { error, json } from '@sveltejs/kit';
import * as v from 'valibot';
import { connectFormSchema } from '$server/access/destination-form.ts';
import { listPlaces } from '$server/broadcast/host-account.ts';
import type { RequestHandler } from './$types';

/** The places that a host's account may post to; nothing is stored. */
export const POST: RequestHandler = async ({ request }) => {
	// A form of another site cannot send this type.
	if (request.headers.get('content-type') !== 'application/json') error(415, 'This asks for JSON.');
	const form = v.safeParse(v.omit(connectFormSchema, ['placeId']), await request.json().catch(() => null));
	if (!form.success) error(400, form.issues[0].message);
	const { url, token } = form.output;
	return json({ places: await listPlaces(url, token).catch((reason: Error) => error(422, reason.message)) });
};

import { json } from '@sveltejs/kit';
import * as v from 'valibot';
import { idSchema } from '$core/show/basics.ts';
import { answering, bodyOf } from '../../answer.ts';
import { note } from '../access/acting.ts';
import type { RequestHandler } from './$types';

const exportSchema = v.object({
	/** Null for everything of the organisation. */
	eventIds: v.nullable(v.pipe(v.array(idSchema), v.minLength(1), v.maxLength(2000))),
	/** Keys and passwords go along, sealed with it; they stay when it is null. */
	passphrase: v.nullable(v.pipe(v.string(), v.minLength(10, 'passphraseShort'), v.maxLength(200))),
});

/** Offers events, or everything, as one zip, which is fetched once. */
export const POST: RequestHandler = answering(async ({ locals, request }) => {
	const order = await bodyOf(request, exportSchema);
	note(locals, 'exported', { secrets: order.passphrase === null ? 'no' : 'yes' });
	return json({ id: locals.bivvo.bundles.offer(order) });
});

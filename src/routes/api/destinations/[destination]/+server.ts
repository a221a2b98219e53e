import { json } from '@sveltejs/kit';
import { note } from '../../access/acting.ts';
import type { RequestHandler } from './$types';

/** Forgets a saved destination with its key. */
export const DELETE: RequestHandler = async ({ params, locals }) => {
	const { destinations } = locals.bivvo;
	const name = (await destinations.list()).find(({ id }) => id === params.destination)?.name ?? params.destination;
	await destinations.forget(params.destination);
	note(locals, 'destinationForgotten', { name });
	return json({ ok: true });
};

import { json } from '@sveltejs/kit';
import { answering } from '../../../../../../answer.ts';
import type { RequestEvent } from './$types';

/** Takes what a guest's page sends to find out what the line carries, and keeps nothing of it. */
export const POST = answering(async ({ request, params, locals }: RequestEvent) => {
	await locals.bivvo.access.limit('guestLine', params.guest);
	let bytes = 0;
	const reader = request.body?.getReader();
	for (let read = await reader?.read(); read && !read.done; read = await reader!.read()) bytes += read.value.byteLength;
	return json({ bytes });
});

import { json } from '@sveltejs/kit';
import type { RequestHandler } from './$types';

/** What the organisation has saved, without any secrets. */
export const GET: RequestHandler = async ({ locals }) => json({ destinations: await locals.bivvo.destinations.list() });

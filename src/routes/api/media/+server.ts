import { json } from '@sveltejs/kit';
import type { RequestHandler } from './$types';

/** All files of the media library. */
export const GET: RequestHandler = async ({ locals }) => json(await locals.bivvo.media.list());

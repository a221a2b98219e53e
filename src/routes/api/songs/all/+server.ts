import { json } from '@sveltejs/kit';
import type { RequestHandler } from './$types';

/** Whole songs, to be written to files. */
export const GET: RequestHandler = async ({ locals }) => json((await locals.bivvo.songs.all()).map(({ song }) => song));

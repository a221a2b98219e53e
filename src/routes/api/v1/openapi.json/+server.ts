import { json } from '@sveltejs/kit';
import { openApi } from '$server/programs/openapi.ts';
import type { RequestHandler } from './$types';

/** The description of this interface. */
export const GET: RequestHandler = ({ url }) => json(openApi(url.origin));

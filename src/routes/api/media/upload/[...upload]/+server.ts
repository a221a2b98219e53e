import type { RequestHandler } from './$types';

/** Resumable uploads into the media library, by the tus protocol. */
const handle: RequestHandler = ({ request, locals }) => locals.bivvo.media.uploads.handleWeb(request);

export const POST = handle;
export const PATCH = handle;
export const HEAD = handle;
export const OPTIONS = handle;
export const DELETE = handle;

import type { RequestHandler } from './$types';

/** Resumable uploads of what a guest's browser has recorded, by the tus protocol. */
const handle: RequestHandler = ({ request, locals }) => locals.bivvo.ownRecordings.handle(request);

export const POST = handle;
export const PATCH = handle;
export const HEAD = handle;
export const OPTIONS = handle;

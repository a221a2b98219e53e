import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals }) => ({ isOpen: locals.bivvo.access.needsSetUp });

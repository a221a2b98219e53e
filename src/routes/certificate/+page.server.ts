import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ url, locals }) => ({
	address: url.origin,
	fingerprint: locals.bivvo.access.ownCertificate,
});

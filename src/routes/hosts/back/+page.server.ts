import type { PageServerLoad } from './$types';

/** A browser comes back from a host: what it brings is good once, and for the attempt alone that it belongs to. */
export const load: PageServerLoad = async ({ url, locals, setHeaders }) => {
	setHeaders({ 'Cache-Control': 'no-store', 'Referrer-Policy': 'no-referrer' });
	const host = await locals.bivvo.destinations.signIns.finish(url.searchParams);
	return { host: host && { name: host.name, state: host.state, problem: host.problem } };
};

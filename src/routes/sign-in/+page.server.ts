import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ url }) => ({ to: url.searchParams.get('to') });

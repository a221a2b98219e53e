import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { bivvo } }) => ({ songs: await bivvo.songs.list() });

import { mediaUses } from '$server/live/media-uses.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { bivvo } }) => ({
	media: await bivvo.media.list(),
	uses: await mediaUses(bivvo.db, bivvo.events),
});

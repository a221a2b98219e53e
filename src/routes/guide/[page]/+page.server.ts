import { error } from '@sveltejs/kit';
import { guide, guideList } from '$lib/guide/pages.ts';
import { guideWords } from '$lib/words/index.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ params }) => {
	const found = guide(params.page);
	if (!found) error(404, { message: guideWords.none, code: 'notFound' });
	return { ...found, page: params.page, pages: guideList() };
};

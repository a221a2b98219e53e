import { error } from '@sveltejs/kit';
import { watchCookie } from '$server/watch/answer-watch.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, url, cookies, setHeaders }) => {
	const found = globalThis.organisations!.watchPage(params.slug);
	if (!found) error(404, { message: 'There is no such page.' });
	const { page } = found;
	setHeaders({ 'Cache-Control': 'no-store', 'X-Robots-Tag': page.place.access === 'public' ? 'all' : 'noindex' });
	const isEmbedded = url.searchParams.has('embed');
	const isIn = page.admits(cookies.get(watchCookie(params.slug)) ?? '');
	const asked = url.searchParams.has('wrong') ? 'wrong' : url.searchParams.has('often') ? 'often' : 'first';
	const told = isIn ? await page.told('', Date.now()) : null;
	return { slug: params.slug, isEmbedded, asked: asked as 'wrong' | 'often' | 'first', told };
};

/** A part of an address made of a title. */
import make from '@sindresorhus/slugify';

export function slugify(title: string): string {
	const made = make(title).slice(0, 50).replace(/-+$/, '');
	return made.length >= 3 ? made : 'our-page';
}

/** Addresses that are sent to somebody: they lead into the organisation that made them. */
import { page } from '$app/state';

/** @param path such as `/link?camera` @param secret that stands behind `#`, which no server is told */
export function siteAddress(path: string, secret: string): string {
	const address = new URL(path, location.origin);
	const { organisation } = page.data as { organisation?: string };
	if (organisation) address.searchParams.set('o', organisation);
	// A parameter without a value is written without "=".
	return `${address.href.replace(/=(?=&|$)/gu, '')}${secret === '' ? '' : `#${secret}`}`;
}

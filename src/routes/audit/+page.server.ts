import { AUDIT_PAGE } from '$server/access/audit-log.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ url, locals: { bivvo } }) => {
	const before = Number(url.searchParams.get('before') ?? NaN);
	const lines = await bivvo.access.audit.list(Number.isSafeInteger(before) ? before : undefined);
	return { lines, older: lines.length === AUDIT_PAGE ? lines.at(-1)!.id : null };
};

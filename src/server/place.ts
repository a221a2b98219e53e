/** Where an organisation keeps what it has: a database and a folder of its own. */
import path from 'node:path';

export interface Place {
	databaseUrl: string;
	dataFolder: string;
}

/**
 * @param first where the first organisation is
 * @param id of another one; '' for the first
 */
export function placeOf(first: Place, id: string): Place {
	if (id === '') return first;
	const url = new URL(first.databaseUrl);
	url.pathname = `${url.pathname}_${id}`;
	return { databaseUrl: url.href, dataFolder: path.join(first.dataFolder, 'organisations', id) };
}

/** Where an organisation keeps what it has: a database and a folder of its own. */
import path from 'node:path';

export interface Place {
	databaseUrl: string;
	dataFolder: string;
	/** What all nodes see; that of the data on a server of one. */
	sharedFolder: string;
}

/**
 * @param first where the first organisation is
 * @param id of another one; '' for the first
 */
export function placeOf(first: Place, id: string): Place {
	if (id === '') return first;
	const url = new URL(first.databaseUrl);
	url.pathname = `${url.pathname}_${id}`;
	const within = (folder: string) => path.join(folder, 'organisations', id);
	return {
		databaseUrl: url.href,
		dataFolder: within(first.dataFolder),
		sharedFolder: within(first.sharedFolder),
	};
}

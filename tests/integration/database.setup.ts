import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { startDatabase } from '../../command/database.mjs';
import { freePort } from '../../command/settings.mjs';

declare module 'vitest' {
	interface ProvidedContext {
		databaseUrl: string;
	}
}

/** A real MariaDB of its own for the integration tests. */
export default async function setup(project: TestProject) {
	const folder = mkdtempSync(path.join(tmpdir(), 'bivvo-db-'));
	const database = await startDatabase(folder, await freePort());
	project.provide('databaseUrl', database.url);
	return async () => {
		await database.stop();
		rmSync(folder, { recursive: true, force: true });
	};
}

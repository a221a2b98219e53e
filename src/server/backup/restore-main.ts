/** Restores a backup, for `./bivvo restore`: lists them, or puts one in place of what is there. */
import { mkdir, readdir } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { openDatabase } from '../db/database.ts';
import { placeOf } from '../place.ts';
import { BackupProblem, restoreBackup, writeBackup } from './backup-file.ts';
import { listBackups } from './backups.ts';

const { values, positionals } = parseArgs({ allowPositionals: true, options: { organisation: { type: 'string' } } });
const [wanted] = positionals;
const { DATABASE_URL: base, BIVVO_DATA: data, BIVVO_MIGRATIONS: migrations } = process.env;
if (!base || !data || !migrations) throw new Error('Run this by ./bivvo restore.');

const say = (line: string) => process.stdout.write(`${line}\n`);
const dateOf = (at: number) => new Date(at).toLocaleString('en-GB', { dateStyle: 'full', timeStyle: 'short' });

try {
	const others = await readdir(path.join(data, 'organisations')).catch((): string[] => []);
	const id = values.organisation ?? '';
	if (id !== '' && !others.includes(id))
		throw new BackupProblem(`There is no organisation ${id}. There are: ${others.join(', ') || 'none but the first'}.`);
	const { databaseUrl: url, dataFolder } = placeOf({ databaseUrl: base, dataFolder: data, sharedFolder: data }, id);
	const folder = path.join(dataFolder, 'backups');
	const known = await listBackups(folder);
	if (wanted === undefined) {
		say(known.length === 0 ? `There is no backup in ${folder} yet.` : 'Backups, the newest first:');
		for (const { name, at } of known) say(`  ${name}   ${dateOf(at)}`);
		if (known[0]) say(`\n./bivvo restore latest, or ./bivvo restore ${known[0].name}`);
		if (id === '' && others.length > 0) say(`Other organisations, each with --organisation: ${others.join(', ')}`);
	} else {
		const name = wanted === 'latest' ? known[0]?.name : wanted;
		if (!name) throw new BackupProblem(`There is no backup in ${folder} yet.`);
		const file = name.includes('/') ? path.resolve(name) : path.join(folder, name);
		// The tables must be there, and as this version has them.
		await (await openDatabase(url, migrations)).close();
		await mkdir(folder, { recursive: true });
		const now = Date.now();
		const before = path.join(folder, `before-restore-${now}.backup.gz`);
		await writeBackup(url, before, now);
		const { at, rows } = await restoreBackup(url, file);
		say(`Restored: ${rows} rows, as they were on ${dateOf(at)}.`);
		say(`What was there before is in ${before}; ./bivvo restore ${path.basename(before)} brings it back.`);
	}
} catch (error) {
	if (!(error instanceof BackupProblem)) throw error;
	process.stderr.write(`${error.message}\n`);
	process.exitCode = 1;
}

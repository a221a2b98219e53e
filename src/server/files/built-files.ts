/** What of this build browsers load. */
import { readdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import * as v from 'valibot';
import { buildText, type Build } from '../../core/nodes/build.ts';
import { VERSION } from '../version.ts';

/** Files here are named by what is in them, so that another build has others. */
const NAMED_BY_CONTENT = '/_app/immutable/';

/** SvelteKit writes when it was built. */
const versionSchema = v.object({ version: v.pipe(v.string(), v.digits(), v.transform(Number)) });

export class BuiltFiles {
	/** As {@link buildText} says it. */
	readonly build: string;
	readonly #files: ReadonlySet<string>;

	private constructor(build: Build, files: ReadonlySet<string>) {
		this.build = buildText(build);
		this.#files = files;
	}

	/** @param folder of what was built for browsers; there is none where a server runs without having been built */
	static async read(folder: string): Promise<BuiltFiles> {
		const within = path.join(folder, NAMED_BY_CONTENT);
		const found = await readdir(within, { recursive: true, withFileTypes: true }).catch(() => []);
		const files = found
			.filter((entry) => entry.isFile())
			.map(
				({ parentPath, name }) => `/${path.relative(folder, path.join(parentPath, name)).replaceAll(path.sep, '/')}`,
			);
		const text = await readFile(path.join(folder, '_app', 'version.json'), 'utf8').catch(() => '{}');
		const read = v.safeParse(versionSchema, JSON.parse(text));
		return new BuiltFiles({ version: VERSION, builtAt: read.success ? read.output.version : null }, new Set(files));
	}

	/** True for a file that only another build can have. @param target as a request names it */
	lacks(target: string): boolean {
		return target.startsWith(NAMED_BY_CONTENT) && !this.#files.has(target.replace(/[?#].*/s, ''));
	}
}

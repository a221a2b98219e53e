/** Which build of Bivvo a node runs, as nodes tell each other: a version with build metadata (Semantic Versioning 2.0.0, clause 10). */
export interface Build {
	version: string;
	/** Milliseconds since 1970; null for a server that runs without having been built. */
	builtAt: number | null;
}

/** Such as `0.1.0+1796050288805`. */
export function buildText({ version, builtAt }: Build): string {
	return builtAt === null ? version : `${version}+${builtAt}`;
}

/** @param text of any version */
export function readBuild(text: string): Build {
	const [version = '', metadata = ''] = text.split('+', 2);
	return { version, builtAt: /^\d{1,15}$/.test(metadata) ? Number(metadata) : null };
}

/** How a section is called above its lines, in text files and in formats that number their verses. */
import type { Section, SectionKind } from '../song.ts';

export type SectionName = Pick<Section, 'kind' | 'number'>;

/** As people write them, in the languages of the songs that are sung most. */
const NAMES: Readonly<Record<SectionKind, readonly string[]>> = {
	verse: ['verse', 'v', 'stanza', 'strophe', 'vers', 'couplet', 'vs'],
	chorus: ['chorus', 'c', 'refrain', 'ch', 'response'],
	preChorus: ['pre-chorus', 'prechorus', 'pre chorus', 'p'],
	bridge: ['bridge', 'b', 'middle eight'],
	intro: ['intro', 'introduction', 'i'],
	ending: ['ending', 'outro', 'tag', 'coda', 'end', 'e'],
	other: ['other', 'o', 'interlude', 'part', 'section'],
};

const KINDS = new Map(
	Object.entries(NAMES).flatMap(([kind, names]) => names.map((name) => [name, kind as SectionKind] as const)),
);

/**
 * @param row "Verse 2", "[Chorus]", "C1:", "Bridge (x2)" …
 * @returns null when it is words to be sung
 */
export function readHeading(row: string): (SectionName & { times: number }) | null {
	const bare = row
		.trim()
		.replace(/^[[({]\s*/, '')
		.replace(/\s*[\])}]?\s*:?\s*$/, '');
	const isMarked = /^\s*[[({].*[\])}]\s*:?\s*$/.test(row) || /:\s*$/.test(row);
	const match = /^(?<name>[\p{L} -]+?)\s*(?<number>\d{1,2})?\s*(?:\(?\s*[x×]\s*(?<times>\d)\)?)?$/iu.exec(bare);
	const kind = KINDS.get(match?.groups?.name?.toLowerCase().trim() ?? '');
	if (!match || !kind) return null;
	const { name = '', number, times } = match.groups!;
	// A letter alone may be a word; a heading has a number then, or is marked.
	if (name.trim().length <= 2 && number === undefined && !isMarked) return null;
	return { kind, number: Number(number ?? 0), times: Math.max(1, Number(times ?? 1)) };
}

/** What is wrong with a file of words; nothing of it is kept. */
export type WordsProblem =
	/** Nothing in it is sung. */
	| { code: 'noWords' }
	| { code: 'notXml'; row: number; problem: string }
	/** XML, but of another kind: the name of its first element. */
	| { code: 'otherXml'; found: string }
	/** Something that OpenLyrics asks for is missing or is not as it should be. */
	| { code: 'schema'; where: string }
	/** Longer than a song can be here. */
	| { code: 'tooLong' };

export class WordsUnreadable extends Error {
	readonly problem: WordsProblem;

	constructor(problem: WordsProblem) {
		super(problem.code);
		this.name = 'WordsUnreadable';
		this.problem = problem;
	}
}

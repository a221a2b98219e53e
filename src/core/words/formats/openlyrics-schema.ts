/** What OpenLyrics asks for, element by element, as its schema openlyrics-0.9.rng does. */
import { WordsUnreadable } from './headings.ts';
import type { XmlElement } from './xml.ts';

/** How often: once, at most once, at least once, any number. */
type Times = '1' | '?' | '+' | '*';

interface Rule {
	/** Elements in it; null when anything may be. */
	children?: Readonly<Record<string, Times>> | null;
	attributes?: Readonly<Record<string, RegExp>>;
	required?: readonly string[];
	/** True when text may stand in it. */
	text?: boolean;
}

const ANY = /[^]*/;
const LANGUAGE = /^[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8})*$/;
const TEXT: Rule = { text: true };
const IN_LINES: Readonly<Record<string, Times>> = { br: '*', chord: '*', comment: '*', tag: '*', line: '*' };

const RULES: Readonly<Record<string, Rule>> = {
	song: {
		children: { properties: '1', format: '?', lyrics: '1' },
		attributes: {
			...{ xmlns: ANY, version: /^0\.[789](\.\d+)?$/, lang: LANGUAGE, schemaLocation: ANY, xsi: ANY, base: ANY },
			...{
				createdIn: ANY,
				modifiedIn: ANY,
				modifiedDate: /^\d{4}-\d\d-\d\d(T[\d:.]+(Z|[+-]\d\d:\d\d)?)?$/,
				chordNotation: ANY,
			},
		},
		required: ['version'],
	},
	properties: {
		children: {
			...{
				titles: '1',
				authors: '?',
				copyright: '?',
				ccliNo: '?',
				released: '?',
				releaseDate: '?',
				transposition: '?',
			},
			...{ tempo: '?', timeSignature: '?', key: '?', variant: '?', publisher: '?', version: '?', customVersion: '?' },
			...{ keywords: '?', verseOrder: '?', songbooks: '?', themes: '?', comments: '?' },
		},
	},
	titles: { children: { title: '+' } },
	title: { text: true, attributes: { lang: LANGUAGE, translit: LANGUAGE, original: /^(true|false|1|0)$/ } },
	authors: { children: { author: '+' } },
	author: { text: true, attributes: { type: /^(words|music|translation|arrangement)$/, lang: LANGUAGE, comment: ANY } },
	copyright: TEXT,
	ccliNo: TEXT,
	released: TEXT,
	releaseDate: TEXT,
	transposition: TEXT,
	tempo: { text: true, attributes: { type: /^(bpm|text)$/ } },
	timeSignature: TEXT,
	key: TEXT,
	variant: TEXT,
	publisher: TEXT,
	version: TEXT,
	customVersion: TEXT,
	keywords: TEXT,
	verseOrder: TEXT,
	songbooks: { children: { songbook: '+' } },
	songbook: { text: true, attributes: { name: ANY, entry: ANY }, required: ['name'] },
	themes: { children: { theme: '+' } },
	theme: { text: true, attributes: { lang: LANGUAGE, translit: LANGUAGE, id: ANY } },
	comments: { children: { comment: '+' } },
	comment: TEXT,
	format: { children: null },
	lyrics: { children: { verse: '+', instrument: '*', linebreak: '*' } },
	verse: {
		children: { lines: '+' },
		attributes: {
			...{ name: /^[a-z]+[0-9]*[a-z]?$/, lang: LANGUAGE, translit: LANGUAGE, break: ANY },
		},
		required: ['name'],
	},
	instrument: { children: null },
	lines: {
		children: IN_LINES,
		text: true,
		attributes: { part: ANY, break: /^optional$/, repeat: /^[1-9]\d?$/, optional: ANY },
	},
	line: { children: IN_LINES, text: true, attributes: { part: ANY } },
	br: {},
	chord: { children: null, attributes: { name: ANY, root: ANY, bass: ANY, structure: ANY, upbeat: ANY }, text: true },
	tag: { children: IN_LINES, text: true, attributes: { name: ANY }, required: ['name'] },
};

/** @throws WordsUnreadable that says where it is not as the schema asks for */
export function checkSong(song: XmlElement): void {
	check(song, 'song');
}

function check(element: XmlElement, where: string): void {
	const fail = (at: string): never => {
		throw new WordsUnreadable({ code: 'schema', where: at });
	};
	const rule = RULES[element.name] ?? fail(where);
	for (const name of rule.required ?? []) if (!(name in element.attributes)) fail(`${where}/@${name}`);
	for (const [name, value] of Object.entries(element.attributes))
		if (!rule.attributes?.[name]?.test(value)) fail(`${where}/@${name}`);
	if (rule.children === null) return;
	const allowed = rule.children ?? {};
	const counts = new Map<string, number>();
	for (const node of element.children) {
		if (typeof node === 'string') {
			if (!rule.text && node.trim() !== '') fail(where);
			continue;
		}
		const path = `${where}/${node.name}`;
		if (!(node.name in allowed) && !(rule.text && element.name !== 'lines' && allowed[node.name])) fail(path);
		counts.set(node.name, (counts.get(node.name) ?? 0) + 1);
		check(node, path);
	}
	for (const [name, times] of Object.entries(allowed)) {
		const count = counts.get(name) ?? 0;
		if ((times === '1' || times === '+') && count === 0) fail(`${where}/${name}`);
		if ((times === '1' || times === '?') && count > 1) fail(`${where}/${name}`);
	}
}

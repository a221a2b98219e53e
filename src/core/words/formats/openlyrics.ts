/**
 * OpenLyrics 0.9, an open XML format for song words (openlyrics.info/dataformat.html). Read as 0.7 and 0.8, too, which
 * have no element that 0.9 does not know.
 */
import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import type { Section, SectionKind, Song } from '../song.ts';
import { WordsUnreadable } from './headings.ts';
import { checkSong } from './openlyrics-schema.ts';
import { songOf } from './song-of.ts';
import { elementsOf, type XmlElement, type XmlNode } from './xml.ts';

const NAMESPACE = 'http://openlyrics.info/namespace/2009/song';
const LETTERS: Readonly<Record<SectionKind, string>> = {
	verse: 'v',
	chorus: 'c',
	preChorus: 'p',
	bridge: 'b',
	intro: 'i',
	ending: 'e',
	other: 'o',
};

export function isXml(text: string): boolean {
	return /^\uFEFF?\s*<[?!\w]/.test(text);
}

/** @throws WordsUnreadable */
export function readOpenLyrics(text: string): Song {
	const valid = XMLValidator.validate(text);
	if (valid !== true) throw new WordsUnreadable({ code: 'notXml', row: valid.err.line, problem: valid.err.msg });
	// Entities of its own are no part of the format, and a way to fill the memory.
	if (/<!(DOCTYPE|ENTITY)/i.test(text)) throw new WordsUnreadable({ code: 'schema', where: '<!DOCTYPE>' });
	const parser = new XMLParser({
		...{ preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', trimValues: false },
		...{ parseTagValue: false, parseAttributeValue: false, removeNSPrefix: true, htmlEntities: false },
	});
	const song = elementsOf(parser.parse(text.replace(/^\uFEFF/, ''))).find(({ name }) => !name.startsWith('?'));
	if (!song || song.name !== 'song') throw new WordsUnreadable({ code: 'otherXml', found: song?.name ?? '' });
	checkSong(song);
	return songFrom(song);
}

const child = (element: XmlElement | undefined, name: string) =>
	element?.children.find((node): node is XmlElement => typeof node !== 'string' && node.name === name);
const children = (element: XmlElement | undefined, name: string) =>
	(element?.children ?? []).filter((node): node is XmlElement => typeof node !== 'string' && node.name === name);
const textOf = (element: XmlElement | undefined): string =>
	(element?.children ?? []).map((node) => (typeof node === 'string' ? node : textOf(node))).join('');
const trimmed = (element: XmlElement | undefined) => textOf(element).replace(/\s+/g, ' ').trim();

function songFrom(song: XmlElement): Song {
	const properties = child(song, 'properties');
	const titles = children(child(properties, 'titles'), 'title');
	const original = titles.find((title) => title.attributes.original === 'true') ?? titles[0];
	const verses = children(child(song, 'lyrics'), 'verse');
	const languages = [...new Set(verses.map(({ attributes }) => attributes.lang ?? ''))];
	// The language of the title is sung first.
	const first = original?.attributes.lang;
	if (first !== undefined && languages.includes(first))
		languages.splice(0, languages.length, first, ...languages.filter((each) => each !== first));
	const sections: Section[] = [];
	/** By the name in the file, which may have a letter for a part of a verse. */
	const indices = new Map<string, number>();
	/** Names of a section's parts, each with its lines by language. */
	const parts = new Map<number, Map<string, string[][]>>();
	for (const verse of verses) {
		const { kind, number, base } = readName(verse.attributes.name ?? '');
		let index = indices.get(base);
		if (index === undefined) {
			index = sections.push({ kind, number, lines: [] }) - 1;
			indices.set(base, index);
			parts.set(index, new Map());
		}
		indices.set(verse.attributes.name ?? '', index);
		const ofSection = parts.get(index)!;
		const name = verse.attributes.name ?? '';
		if (!ofSection.has(name)) ofSection.set(name, []);
		ofSection.get(name)![languages.indexOf(verse.attributes.lang ?? '')] = children(verse, 'lines').flatMap(linesOf);
	}
	for (const [index, ofSection] of parts)
		for (const byLanguage of ofSection.values()) {
			const most = Math.max(...languages.map((_, i) => byLanguage[i]?.length ?? 0));
			for (let i = 0; i < most; i++) sections[index]!.lines.push(languages.map((_, k) => byLanguage[k]?.[i] ?? ''));
		}
	const order = trimmed(child(properties, 'verseOrder'))
		.split(' ')
		.map((name) => indices.get(name))
		// Parts of a verse come one after the other, and are one section here.
		.filter(
			(index, i, all): index is number => index !== undefined && (index !== all[i - 1] || !parts.get(index)?.size),
		);
	const authors = children(child(properties, 'authors'), 'author').map(trimmed);
	const isPlain = order.length === sections.length && order.every((index, i) => index === i);
	if (sections.every(({ lines }) => lines.length === 0)) throw new WordsUnreadable({ code: 'noWords' });
	return songOf({
		title: trimmed(original),
		authors: [...new Set(authors.filter((each) => each !== ''))],
		copyright: trimmed(child(properties, 'copyright')),
		licence: trimmed(child(properties, 'ccliNo')),
		languages,
		sections,
		order: isPlain ? [] : order,
	});
}

function readName(name: string): Pick<Section, 'kind' | 'number'> & { base: string } {
	const { letter = 'o', number = '' } = /^(?<letter>[a-z]+?)(?<number>\d*)[a-z]?$/.exec(name)?.groups ?? {};
	const kind = (Object.keys(LETTERS) as SectionKind[]).find((each) => LETTERS[each] === letter) ?? 'other';
	return { kind, number: Number(number) % 100, base: `${letter}${number}` };
}

/** Words of a `lines` element, line by line; chords and comments are taken off. */
function linesOf(lines: XmlElement): string[] {
	let text = '';
	const add = (node: XmlNode): void => {
		if (typeof node === 'string') text += node.replace(/\s+/g, ' ');
		else if (node.name === 'br') text += '\n';
		// 0.7 had `line` elements for it.
		else if (node.name === 'line') {
			node.children.forEach(add);
			text += '\n';
		} else if (node.name !== 'comment') node.children.forEach(add);
	};
	lines.children.forEach(add);
	const rows = text
		.split('\n')
		.map((row) => row.replace(/\s+/g, ' ').trim())
		.filter((row) => row !== '');
	const times = Math.min(9, Number(lines.attributes.repeat ?? 1));
	return Array.from({ length: times }, () => rows).flat();
}

const nameOf = ({ kind, number }: Section) => `${LETTERS[kind]}${number || (kind === 'verse' ? 1 : '')}`;

/**
 * @param modified when it was changed last, as an ISO date
 * @param createdIn name and version of the program that writes it
 */
export function writeOpenLyrics(song: Song, modified: string, createdIn: string): string {
	const names = uniqueNames(song.sections);
	const [first = ''] = song.languages;
	const lang = (language: string) => (language === '' ? {} : { '@lang': language });
	const verses = song.sections.flatMap((section, i) =>
		song.languages.flatMap((language, k) => {
			const lines = section.lines.map((line) => line[k] ?? '');
			// A language may have no words for a section.
			while (lines.length > 0 && lines.at(-1) === '') lines.pop();
			return lines.length === 0 ? [] : [{ '@name': names[i], ...lang(language), lines: { '#text': lines.join('\n') } }];
		}),
	);
	const known = (name: string, value: string) => (value === '' ? {} : { [name]: value });
	const builder = new XMLBuilder({
		...{ ignoreAttributes: false, attributeNamePrefix: '@', format: true, suppressEmptyNode: true },
	});
	const xml = builder.build({
		'?xml': { '@version': '1.0', '@encoding': 'UTF-8' },
		song: {
			...{ '@xmlns': NAMESPACE, '@version': '0.9', '@createdIn': createdIn, '@modifiedDate': modified },
			properties: {
				titles: { title: { ...lang(first), '#text': song.title } },
				...(song.authors.length > 0 ? { authors: { author: song.authors } } : {}),
				...known('copyright', song.copyright),
				...known('ccliNo', song.licence),
				...known('publisher', song.source),
				...known('verseOrder', song.order.map((index) => names[index] ?? '').join(' ')),
			},
			lyrics: { verse: verses },
		},
	}) as string;
	// Lines end with an element, not with a line of the file.
	return xml.replace(
		/<lines>([^<]*)<\/lines>/g,
		(_, lines: string) => `<lines>${lines.replaceAll('\n', '<br/>')}</lines>`,
	);
}

/** Sections of one name get numbers of their own: names are how the order speaks of them. */
function uniqueNames(sections: readonly Section[]): string[] {
	const taken = new Set<string>();
	return sections.map((section) => {
		let name = nameOf(section);
		for (let number = 2; taken.has(name); number++) name = `${LETTERS[section.kind]}${number}`;
		taken.add(name);
		return name;
	});
}

/** The guide's pages, and which of them is about what. Read on the server: a page loads none of it. */
import { Marked, type Tokens } from 'marked';
import { GUIDE_PAGES, type GuidePage } from './list.ts';

const TEXTS = import.meta.glob<string>('../../../docs/guide/*.md', { query: '?raw', import: 'default', eager: true });
const PICTURES = import.meta.glob<string>('../../../docs/screenshots/*.png', {
	query: '?url',
	import: 'default',
	eager: true,
});

export interface Guide {
	title: string;
	html: string;
}

const textOf = (page: string) => TEXTS[`../../../docs/guide/${page}.md`] ?? null;

/** A page; null when there is none. */
export function guide(page: string): Guide | null {
	const text = textOf(page);
	if (text === null) return null;
	return { title: titleOf(text), html: marked.parse(text, { async: false }) };
}

/** All pages by title, for a list of them. */
export function guideList(): { page: GuidePage; title: string }[] {
	return GUIDE_PAGES.map((page) => ({ page, title: titleOf(textOf(page) ?? '') }));
}

function titleOf(text: string): string {
	return /^# (.+)$/mu.exec(text)?.[1] ?? '';
}

/** A heading with an id of its own: `## The sound {#sound}`. */
const NAMED = /\s*\{#([a-z-]+)\}$/u;

const marked = new Marked({
	renderer: {
		heading({ depth, tokens, text }: Tokens.Heading) {
			const [, id = ''] = NAMED.exec(text) ?? [];
			const html = this.parser.parseInline(tokens).replace(NAMED, '');
			return `<h${depth}${id === '' ? '' : ` id="${id}"`}>${html}</h${depth}>\n`;
		},
		image({ href, text }: Tokens.Image) {
			const url = PICTURES[`../../../docs/screenshots/${href.split('/').at(-1)!}`];
			return url ? `<img src="${url}" alt="${text}" loading="lazy">` : '';
		},
		link({ href, tokens }: Tokens.Link) {
			return `<a href="${href.replace(/^([a-z-]+)\.md/u, '/guide/$1')}">${this.parser.parseInline(tokens)}</a>`;
		},
	},
});

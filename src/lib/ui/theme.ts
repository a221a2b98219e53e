/**
 * The look of all controls. Flowbite's components read `theme` from its provider in the root layout; `BUTTON` holds what
 * its theme cannot tell apart, the looks and sizes of a button. Colours and radii are the tokens of app.css.
 */
import type { ThemeConfig } from 'flowbite-svelte';

const FOCUS = 'focus:ring-0 focus-visible:outline-3 focus-visible:outline-offset-2 focus-visible:outline-lamp';
const FIELD = `rounded-sm border-gray-500 bg-white py-1 px-2 text-sm text-ink disabled:opacity-40 dark:border-slate-rule dark:bg-gray-700 dark:text-paper ${FOCUS}`;

export const theme: ThemeConfig = {
	accordionItem: {
		base: 'group',
		button: `w-full justify-start gap-2 border-0 p-0 py-1 text-sm font-semibold text-inherit group-first:rounded-none group-first:border-t-0 dark:text-inherit ${FOCUS}`,
		content: 'grid gap-1 border-0 p-0 pb-1 dark:border-0',
		active: 'bg-transparent text-inherit dark:bg-transparent dark:text-inherit',
		inactive: 'bg-transparent text-inherit hover:bg-transparent dark:text-inherit dark:hover:bg-transparent',
	},
	accordion: 'rounded-none border-0 dark:border-0',
	alert:
		'rounded-none border-l-4 border-lamp bg-transparent px-3 py-0 text-sm font-semibold text-ink dark:bg-transparent dark:text-paper',
	badge: { base: 'rounded-none px-2 py-0.5 text-[length:inherit] font-bold whitespace-nowrap' },
	breadcrumbItem: { base: 'text-sm font-semibold text-ink hover:text-ink dark:text-gray-300 dark:hover:text-lamp' },
	buttonGroup: 'rounded-sm shadow-none',
	card: {
		base: 'max-w-none rounded-sm border-gray-300 bg-white shadow-none dark:border-slate-rule dark:bg-slate-panel',
	},
	checkbox: {
		base: `me-0 size-4 shrink-0 rounded-xs border-gray-500 bg-white text-primary-700 dark:border-gray-400 dark:bg-gray-700 dark:text-primary-700 dark:ring-offset-0 ${FOCUS}`,
		div: 'gap-2 text-sm font-normal text-inherit dark:text-inherit',
	},
	helper: 'text-gray-600 dark:text-gray-300',
	input: { input: FIELD },
	label: 'font-medium text-inherit dark:text-inherit',
	modal: {
		base: 'rounded-sm border border-gray-300 text-ink dark:border-slate-rule dark:bg-slate-panel dark:text-paper',
		header: 'p-4 text-lg dark:text-paper',
		body: 'p-4',
		footer: 'gap-2 space-x-0 p-4',
	},
	progressbar: { base: 'rounded-sm bg-gray-200 dark:bg-gray-700', inside: 'rounded-sm', outside: 'rounded-sm' },
	range: `h-auto appearance-auto bg-transparent accent-lamp disabled:cursor-default disabled:opacity-40 dark:bg-transparent ${FOCUS}`,
	select: { base: 'rounded-sm', select: `${FIELD} pe-8` },
	table: { table: 'text-ink dark:text-paper' },
	tableBodyCell: 'px-3 py-2 text-ink dark:text-paper',
	tableBodyRow: 'border-gray-300 bg-white dark:border-slate-rule dark:bg-slate-panel',
	tableHead: 'bg-gray-100 text-ink normal-case dark:bg-gray-700 dark:text-paper',
	tableHeadCell: 'px-3 py-2',
	toast: {
		base: 'max-w-none items-center rounded-sm border border-lamp bg-gray-700 px-4 py-2 text-paper shadow-none dark:bg-gray-700 dark:text-paper',
		content: 'flex items-center gap-3 text-base',
		close: 'bg-transparent text-gray-300 hover:bg-gray-600 dark:bg-transparent dark:text-gray-300',
	},
	toggle: { label: 'text-sm font-semibold', span: 'me-2' },
};

/** Of a field of several lines, which has none of the provider's theme while it stands alone. */
export const TEXTAREA = `w-full ${FIELD}`;

/** How a button looks: *main* is what one most likely presses next, *icon* a small picture, *bare* only what is in it. */
export type Look = 'plain' | 'main' | 'icon' | 'bare';
export type ButtonSize = 'xs' | 'sm' | 'md' | 'lg' | 'touch';
/** What shows that it is pressed: *fill* and *edge* in lamp amber, *air* in the red of what is on air. */
export type Lit = 'fill' | 'edge' | 'air';

const BUTTON_BASE = `rounded-sm whitespace-nowrap disabled:cursor-default disabled:opacity-40 ${FOCUS} focus-visible:outline-solid`;
const PLAIN =
	'border border-gray-500 bg-white font-semibold text-ink hover:border-ink hover:bg-gray-100 dark:border-slate-rule dark:bg-gray-700 dark:text-paper dark:hover:border-lamp dark:hover:bg-gray-700';

export const BUTTON = {
	base: BUTTON_BASE,
	/** None of Flowbite's colours, so that none has to be taken back. */
	color: 'none',
	look: {
		plain: PLAIN,
		main: 'border border-ink bg-ink font-bold text-paper hover:bg-gray-700 dark:border-lamp dark:bg-lamp dark:text-ink dark:hover:bg-primary-300',
		icon: 'size-6 shrink-0 p-0 dark:hover:text-lamp',
		bare: 'block justify-start p-0 text-[length:inherit] font-normal whitespace-normal dark:hover:text-lamp',
	} satisfies Record<Look, string>,
	size: {
		xs: 'px-2 py-1 text-xs',
		sm: 'px-2 py-1 text-sm',
		md: 'px-3 py-1.5 text-base',
		lg: 'px-4 py-2 text-xl',
		/** For a finger: 44 CSS pixels (WCAG 2.2, 2.5.5). */
		touch: 'min-h-11 px-3 py-1.5 text-base',
	} satisfies Record<ButtonSize, string>,
	lit: {
		fill: 'dark:aria-pressed:border-lamp dark:aria-pressed:bg-lamp dark:aria-pressed:text-ink',
		edge: 'dark:aria-pressed:border-lamp dark:aria-pressed:text-lamp',
		air: 'dark:aria-pressed:border-air dark:aria-pressed:bg-air dark:aria-pressed:text-white',
	} satisfies Record<Lit, string>,
} as const;

/**
 * The sentences of the interface, by area. Another language is a folder beside `en` with the same names, chosen here. Handed
 * on as they are, so that a page loads those of its own areas only.
 */
export * from './en/index.ts';

import { readFileSync } from 'node:fs';
import * as v from 'valibot';
import { toJsonSchema } from '@valibot/to-json-schema';
import { expect, it } from 'vitest';
import { bundledFileSchema, bundleSchema, filesOf, withOtherIds } from './bundle.ts';

it('the published schema is that by which bundles are read', () => {
	const made = toJsonSchema(bundleSchema, { errorMode: 'ignore', typeMode: 'input' });
	expect(JSON.parse(readFileSync('docs/bundle.schema.json', 'utf8'))).toEqual(JSON.parse(JSON.stringify(made)));
});

it('files lie where they belong and nowhere else', () => {
	const file = { bytes: 1, sha256: 'a'.repeat(64) };
	const isTaken = (path: string) => v.is(bundledFileSchema, { ...file, path });
	expect(['media/film', 'media/film.poster', 'stills/lantern-night/abc'].map(isTaken)).toEqual([true, true, true]);
	const outside = ['../etc/passwd', 'media/../../x', '/media/film', 'media/film/../../x', 'media\\film', 'bivvo.json'];
	expect(outside.map(isTaken)).toEqual(outside.map(() => false));
	const still = { of: 'a', id: 'b', file: { ...file, path: 'stills/a/b' } };
	expect(filesOf({ media: [], stills: [still, still] })).toHaveLength(1);
});

it('what has another id here is named by it, and nothing else', () => {
	const show = {
		setup: { sources: [{ id: 'film', items: [{ mediaId: 'film' }] }], words: { items: [{ songId: 'film' }] } },
	};
	expect(withOtherIds(show, new Map([['mediaId film', 'other']]))).toEqual({
		setup: { sources: [{ id: 'film', items: [{ mediaId: 'other' }] }], words: { items: [{ songId: 'film' }] } },
	});
});

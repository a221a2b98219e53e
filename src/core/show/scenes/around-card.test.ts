import { expect, it } from 'vitest';
import { reduceAll } from '../reduce.ts';
import { withSetup } from '../slice.ts';
import { plainCard } from '../sources/kinds/card.ts';
import { plainSource } from '../sources/source.ts';
import { emptyShow } from '../state.ts';
import { behindCard, logoOfCard, withBehind, withLogo } from './around-card.ts';
import { plainScene, wholeLayer } from './scene.ts';

it('a still stands behind a card and a logo upon it in all its scenes, until they are taken away', () => {
	const card = plainSource('card', 'Thank you', { kind: 'card', card: plainCard({ ground: 'none' }) });
	const still = (id: string) => plainSource(id, id, { kind: 'still', fileId: id, fileName: `${id}.png` });
	const scene = plainScene('thanks', 'Thank you', [wholeLayer('layer', 'card')]);
	let state = withSetup(emptyShow('e', 'Lantern Night', '', { width: 1280, height: 720, fps: 30 }), {
		sources: [card, still('fell'), still('logo')],
		scenes: [scene, { ...plainScene('kept', 'Kept', [wholeLayer('other', 'card')]), locked: true }],
	});
	state = reduceAll(state, withBehind(state.setup, 'card', 'fell'), 0);
	state = reduceAll(state, withLogo(state.setup, 'card', 'logo'), 0);
	expect([behindCard(state.setup, 'card'), logoOfCard(state.setup, 'card')]).toEqual(['fell', 'logo']);
	expect(state.setup.scenes[0]!.layers.map(({ sourceId }) => sourceId)).toEqual(['card', 'logo']);
	// Put on twice it is there once.
	expect(reduceAll(state, withLogo(state.setup, 'card', 'logo'), 0).setup.scenes[0]!.layers).toHaveLength(2);
	state = reduceAll(state, [...withBehind(state.setup, 'card', null)], 0);
	state = reduceAll(state, withLogo(state.setup, 'card', null), 0);
	expect(state.setup.scenes[0]).toEqual(scene);
	expect(state.setup.scenes[1]!.layers).toHaveLength(1);
});

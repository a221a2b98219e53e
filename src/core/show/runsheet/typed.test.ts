import { expect, it } from 'vitest';
import { plainClip, wholeItem } from '../clips/clip.ts';
import { plainScene, wholeLayer } from '../scenes/scene.ts';
import { plainSource } from '../sources/source.ts';
import { cueOfScene, cueOfSource, typedCue } from './typed.ts';

const film = plainSource('film', 'Season on the fell', {
	kind: 'clip',
	...plainClip([wholeItem('m', 'Season on the fell', 90_000)]),
});
const setup = {
	sources: [film],
	scenes: [
		plainScene('lectern', 'Lectern', [wholeLayer('a', 'camera')]),
		plainScene('film-scene', 'Season on the fell', [wholeLayer('b', 'film')]),
	],
};

it('a typed line has its time in front, and the scene of its name', () => {
	expect(typedCue('x', ' 19:05  Greeting ', setup)).toMatchObject({
		name: 'Greeting',
		plannedAt: '19:05',
		sceneId: null,
	});
	expect(typedCue('x', '9.30 lectern', setup)).toMatchObject({
		name: 'lectern',
		plannedAt: '09:30',
		sceneId: 'lectern',
	});
	expect(typedCue('x', 'Lectern', setup)).toMatchObject({ plannedAt: '', sceneId: 'lectern', follow: { by: 'go' } });
});

it('a line with the name of a clip’s scene ends with the clip', () => {
	expect(typedCue('x', '19:26 Season on the fell', setup)).toMatchObject({
		sceneId: 'film-scene',
		follow: { by: 'clip', sourceId: 'film' },
	});
});

it('what is no time of day is a part of the words, and nothing is no line', () => {
	expect(typedCue('x', '25:70 Psalm', setup)).toMatchObject({ name: '25:70 Psalm', plannedAt: '' });
	expect(typedCue('x', '4 Lanterns are drawn', setup)).toMatchObject({ name: '4 Lanterns are drawn', plannedAt: '' });
	expect(typedCue('x', '   ', setup)).toBeNull();
});
it('a scene or a clip that is dropped on the sheet becomes the line that one would type', () => {
	const [lectern, seen] = setup.scenes;
	expect(cueOfScene('x', lectern!, setup)).toMatchObject({ name: 'Lectern', sceneId: 'lectern', follow: { by: 'go' } });
	expect(cueOfSource('x', 'film', setup)).toEqual(cueOfScene('x', seen!, setup));
	// Heard only, it is played; a source that no scene shows is nothing to do.
	expect(cueOfSource('x', 'film', { ...setup, scenes: [] })).toMatchObject({ plays: ['film'], sceneId: null });
	expect(cueOfSource('x', 'nobody', setup)).toBeNull();
});

/** What stands behind a card and what lies upon it, in the scenes that show it: a still or a clip, and a logo. */
import type { SingleCommand } from '../command.ts';
import type { Setup } from '../state.ts';
import { wholeLayer, type Scene } from './scene.ts';

/** A fifth of the picture's width, at the foot, clear of the words. */
const LOGO_BOX = { x: 0.4, y: 0.82, width: 0.2, height: 0.12 };

const logoId = (scene: Scene) => `${scene.id}-logo`.slice(-64);

/** Scenes that show a card and are not locked. */
export function scenesOf({ scenes }: Pick<Setup, 'scenes'>, cardId: string): Scene[] {
	return scenes.filter(({ locked, layers }) => !locked && layers.some(({ sourceId }) => sourceId === cardId));
}

/** The source that stands behind a card; null where it is the event's own, or nothing. */
export function behindCard(setup: Pick<Setup, 'scenes'>, cardId: string): string | null {
	const [scene] = scenesOf(setup, cardId);
	return scene?.background.is === 'own' ? scene.background.sourceId : null;
}

/** The source that lies upon a card as a logo; null without one. */
export function logoOfCard(setup: Pick<Setup, 'scenes'>, cardId: string): string | null {
	const [scene] = scenesOf(setup, cardId);
	return scene?.layers.find(({ id }) => id === logoId(scene))?.sourceId ?? null;
}

/** @param sourceId what stands behind the card; that of the event when null */
export function withBehind(setup: Pick<Setup, 'scenes'>, cardId: string, sourceId: string | null): SingleCommand[] {
	return scenesOf(setup, cardId).map((scene) => ({
		type: 'changeScene',
		live: false,
		scene: { ...scene, background: sourceId === null ? { is: 'event' } : { is: 'own', sourceId } },
	}));
}

/** @param sourceId what lies upon the card; nothing when null */
export function withLogo(setup: Pick<Setup, 'scenes'>, cardId: string, sourceId: string | null): SingleCommand[] {
	return scenesOf(setup, cardId).map((scene) => {
		const layers = scene.layers.filter(({ id }) => id !== logoId(scene));
		const logo = sourceId === null ? [] : [{ ...wholeLayer(logoId(scene), sourceId), box: LOGO_BOX }];
		return { type: 'changeScene', live: false, scene: { ...scene, layers: [...layers, ...logo] } };
	});
}

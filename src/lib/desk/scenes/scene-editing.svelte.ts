/** The editing of one scene: what it is now with all changes, and the way back. */
import { arranged } from '../../../core/picture/geometry.ts';
import type { Box } from '../../../core/show/basics.ts';
import { wholeLayer, type Layer, type Scene } from '../../../core/show/scenes/scene.ts';
import { newId } from '../../show/new-id.ts';
import { Steps } from '../../show/steps.svelte.ts';
import { scenes as words } from '../../words/index.ts';
import type { DeskSession } from '../desk-session.svelte.ts';

export class SceneEditing {
	readonly session: DeskSession;
	readonly sceneId: string;
	selected = $state<string | null>(null);
	/** Changes go on air as they are made. */
	live = $state(false);
	/** What the hand does with the chosen layer: places it, or cuts off its edges on the source's own picture. */
	hand = $state<'place' | 'crop'>('place');
	/** The picture shows how opaque the chosen layer is, instead of the scene. */
	showsOpacity = $state(false);
	/** Places of an arrangement that nothing has been put into yet. */
	places = $state.raw<readonly Box[]>([]);
	#steps = new Steps();

	constructor(session: DeskSession, sceneId: string) {
		this.session = session;
		this.sceneId = sceneId;
		this.selected = this.scene?.layers.at(-1)?.id ?? null;
	}

	get draft(): Scene | null {
		return this.session.show.state?.live.drafts.find(({ id }) => id === this.sceneId) ?? null;
	}

	/** The scene with the changes that wait, or null when it is gone. */
	get scene(): Scene | null {
		return this.draft ?? this.session.show.state?.setup.scenes.find(({ id }) => id === this.sceneId) ?? null;
	}

	get layer(): Layer | null {
		return this.scene?.layers.find(({ id }) => id === this.selected) ?? null;
	}

	get onAir(): boolean {
		return this.session.isOnAir && this.session.show.state?.live.program === this.sceneId;
	}

	get canUndo(): boolean {
		return this.#steps.any;
	}

	/** @param done false while a movement goes on */
	change(part: Partial<Scene>, done = true, what = Object.keys(part).join()): boolean {
		const { scene } = this;
		if (!scene) return false;
		const command = { type: 'changeScene' as const, scene: { ...scene, ...part }, live: this.live };
		const inverse = this.session.show.send(command);
		if (inverse) this.#steps.remember(inverse, what, done);
		return inverse !== null;
	}

	changeLayer(id: string, part: Partial<Layer>, done = true): void {
		const layers = this.scene?.layers.map((layer) => (layer.id === id ? { ...layer, ...part } : layer));
		if (layers) this.change({ layers }, done, `${id} ${Object.keys(part).join()}`);
	}

	undo(): void {
		this.session.undo(this.#steps.back());
	}

	/** Gives up the changes that wait for the next take. */
	forget(): void {
		const { draft, session } = this;
		if (!draft) return;
		session.doWithUndo({ type: 'dropDraft', sceneId: this.sceneId }, words.changesDiscarded(draft.name));
	}

	/** @param place of the empty places, the first unless said otherwise; without any it comes into a corner */
	addLayer(sourceId: string, framingId: string | null, place = 0): void {
		const { scene } = this;
		if (!scene) return;
		const layer: Layer = { ...wholeLayer(newId(), sourceId), framingId };
		const box = this.places[place];
		if (box) Object.assign(layer, { box, fit: 'fill' });
		else if (scene.layers.length > 0) layer.box = { x: 0.6, y: 0.6, width: 0.35, height: 0.35 };
		if (!this.change({ layers: [...scene.layers, layer] })) return;
		this.places = this.places.filter((each) => each !== box);
		this.selected = layer.id;
	}

	removeLayer(id: string): void {
		const layers = this.scene?.layers.filter((layer) => layer.id !== id) ?? [];
		this.change({ layers });
		if (this.selected === id) this.selected = layers.at(-1)?.id ?? null;
	}

	/** @param by 1 towards the front, −1 towards the back */
	moveLayer(id: string, by: 1 | -1): void {
		const ids = this.scene?.layers.map((layer) => layer.id) ?? [];
		const from = ids.indexOf(id);
		const to = from + by;
		if (from < 0 || to < 0 || to >= ids.length) return;
		this.orderLayers(ids.toSpliced(from, 1).toSpliced(to, 0, id));
	}

	/** @param ids of all layers, from the back to the front */
	orderLayers(ids: readonly string[]): void {
		const layers = this.scene?.layers.toSorted((a, b) => ids.indexOf(a.id) - ids.indexOf(b.id));
		if (layers) this.change({ layers });
	}

	/**
	 * Puts the layers into computed places; pictures of another shape are cropped to them.
	 * @param count of places, 1 to 9: those beyond the layers stay empty, to be filled
	 */
	arrange(way: Parameters<typeof arranged>[0], count: number): void {
		const { scene } = this;
		const { picture } = this.session.show.state!.setup;
		if (!scene) return;
		const boxes = arranged(way, count, picture.width / picture.height);
		this.places = boxes.slice(scene.layers.length);
		if (scene.layers.length === 0) return;
		const layers = scene.layers.map((layer, i): Layer => {
			const box = boxes[i];
			return box ? { ...layer, box, fit: 'fill' } : layer;
		});
		this.change({ layers });
	}
}

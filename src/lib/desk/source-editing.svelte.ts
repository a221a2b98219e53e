/** The editing of one source: its framings, corrections and patches, and the way back. */
import type { Box } from '../../core/show/basics.ts';
import type { PrivacyPatch } from '../../core/show/overlay.ts';
import type { Source } from '../../core/show/source.ts';
import { newId, type DeskSession } from './session.svelte.ts';
import { Steps } from './steps.svelte.ts';

interface Before {
	source: Source;
	patches: readonly PrivacyPatch[];
}

export class SourceEditing {
	readonly session: DeskSession;
	readonly sourceId: string;
	/** What is placed by hand on the picture. */
	placing = $state<'framings' | 'patches'>('framings');
	/** The framing or patch that is placed. */
	selected = $state<string | null>(null);
	#steps = new Steps<Before>();

	constructor(session: DeskSession, sourceId: string) {
		this.session = session;
		this.sourceId = sourceId;
		const framing = this.source?.framings[0];
		const patch = this.patches[0];
		this.placing = framing || !patch ? 'framings' : 'patches';
		this.selected = (framing ?? patch)?.id ?? null;
	}

	/** Null when it is gone. */
	get source(): Source | null {
		return this.session.show.state?.sources.find(({ id }) => id === this.sourceId) ?? null;
	}

	get patches(): readonly PrivacyPatch[] {
		return this.session.show.state?.patches.filter(({ sourceId }) => sourceId === this.sourceId) ?? [];
	}

	get canUndo(): boolean {
		return this.#steps.any;
	}

	/** @param done false while a movement goes on */
	change(part: Partial<Source>, done = true, what = Object.keys(part).join()): boolean {
		const { source } = this;
		if (!source) return false;
		const before = { source, patches: this.patches };
		const ok = this.session.do({ type: 'changeSource', source: { ...source, ...part } });
		if (ok) this.#steps.remember(before, what, done);
		return ok;
	}

	changePatch(patch: PrivacyPatch, done = true): void {
		const { source, patches } = this;
		if (!source) return;
		if (this.session.do({ type: 'changePatch', patch })) this.#steps.remember({ source, patches }, patch.id, done);
	}

	/** A box was moved on the picture. */
	place(id: string, box: Box, done: boolean): void {
		if (this.placing === 'framings') {
			const framings = this.source?.framings.map((each) => (each.id === id ? { ...each, crop: box } : each));
			this.change({ framings: framings ?? [] }, done, id);
		} else {
			const patch = this.patches.find((each) => each.id === id);
			if (patch) this.changePatch({ ...patch, area: box }, done);
		}
	}

	addFraming(): void {
		const { source } = this;
		if (!source) return;
		const framing = {
			id: newId(),
			name: `${source.name} ${source.framings.length + 2}`.slice(0, 120),
			crop: { x: 0.25, y: 0.25, width: 0.5, height: 0.5 },
		};
		if (!this.change({ framings: [...source.framings, framing] })) return;
		this.placing = 'framings';
		this.selected = framing.id;
	}

	removeFraming(id: string): void {
		const { source, session } = this;
		if (!source) return;
		const scenes = session.show.state!.scenes.filter(({ layers }) => layers.some(({ framingId }) => framingId === id));
		const framings = source.framings.filter((framing) => framing.id !== id);
		if (!session.do({ type: 'changeSource', source: { ...source, framings } })) return;
		session.notify(`The framing was removed.`, () => {
			session.do({ type: 'changeSource', source });
			for (const scene of scenes) session.do({ type: 'changeScene', scene, live: true });
		});
	}

	addPatch(): void {
		const { source, session, patches } = this;
		if (!source) return;
		const patch: PrivacyPatch = {
			id: newId(),
			name: `${source.name} ${patches.length + 1}`.slice(0, 120),
			sourceId: source.id,
			area: { x: 0.3, y: 0.3, width: 0.4, height: 0.4 },
			style: 'blur',
			strength: 5,
			on: true,
			follow: source.kind === 'screen',
		};
		if (!session.do({ type: 'addPatch', patch })) return;
		this.placing = 'patches';
		this.selected = patch.id;
	}

	/** Goes back one change. A patch is never taken off by going back, and a framing that a scene shows is not lost. */
	undo(): void {
		const before = this.#steps.back();
		const { source, patches } = this;
		if (!before || !source) return;
		const { scenes } = this.session.show.state!;
		const used = scenes.flatMap(({ layers }) => layers.map(({ framingId }) => framingId));
		const were = before.source.framings;
		const since = source.framings.filter(({ id }) => used.includes(id) && !were.some((each) => each.id === id));
		this.session.do({ type: 'changeSource', source: { ...before.source, framings: [...were, ...since] } });
		for (const patch of patches) {
			const old = before.patches.find(({ id }) => id === patch.id);
			if (old && JSON.stringify(old) !== JSON.stringify(patch)) this.session.do({ type: 'changePatch', patch: old });
		}
	}
}

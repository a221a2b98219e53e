/** The editing of one source: its framings, corrections and patches, and the way back. */
import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
import type { Box } from '../../../core/show/basics.ts';
import type { SingleCommand } from '../../../core/show/command.ts';
import type { PrivacyPatch } from '../../../core/show/overlays/overlay.ts';
import { kindOf, type Framing, type Source } from '../../../core/show/sources/source.ts';
import { newId } from '../../show/new-id.ts';
import { Steps } from '../../show/steps.svelte.ts';
import { sources as words } from '../../words/index.ts';
import type { DeskSession } from '../desk-session.svelte.ts';

export class SourceEditing {
	readonly session: DeskSession;
	readonly sourceId: string;
	/** What is placed by hand on the picture. */
	placing = $state<'framings' | 'patches'>('framings');
	/** The framing or patch that is placed. */
	selected = $state<string | null>(null);
	#steps = new Steps();

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
		return this.session.show.state?.setup.sources.find(({ id }) => id === this.sourceId) ?? null;
	}

	get patches(): readonly PrivacyPatch[] {
		return this.session.show.state?.setup.patches.filter(({ sourceId }) => sourceId === this.sourceId) ?? [];
	}

	get canUndo(): boolean {
		return this.#steps.any;
	}

	/** @param done false while a movement goes on */
	change(part: Partial<Source>, done = true, what = Object.keys(part).join()): boolean {
		const { source } = this;
		if (!source) return false;
		return this.#do({ type: 'changeSource', source: { ...source, ...part } as Source }, done, what);
	}

	changeFraming(framing: Framing, done = true): void {
		this.#do({ type: 'changeFraming', sourceId: this.sourceId, framing }, done, framing.id);
	}

	changePatch(patch: PrivacyPatch, done = true): void {
		this.#do({ type: 'changePatch', patch }, done, patch.id);
	}

	/** Does a change that `undo` takes back. */
	#do(command: SingleCommand, done: boolean, what: string): boolean {
		const inverse = this.session.show.send(command);
		if (inverse) this.#steps.remember(inverse, what, done);
		return inverse !== null;
	}

	/** A box was moved on the picture. */
	place(id: string, box: Box, done: boolean): void {
		if (this.placing === 'framings') {
			const framing = this.source?.framings.find((each) => each.id === id);
			if (framing) this.changeFraming({ ...framing, crop: box }, done);
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
			name: `${source.name} ${source.framings.length + 2}`.slice(0, MOST_NAME_LETTERS),
			crop: { x: 0.25, y: 0.25, width: 0.5, height: 0.5 },
		};
		// Not a step to go back: a scene may show it by then.
		if (!this.session.do({ type: 'addFraming', sourceId: source.id, framing })) return;
		this.placing = 'framings';
		this.selected = framing.id;
	}

	removeFraming(framingId: string): void {
		const { sourceId } = this;
		this.session.doWithUndo({ type: 'removeFraming', sourceId, framingId }, words.framingRemoved);
	}

	addPatch(): void {
		const { source, session, patches } = this;
		if (!source) return;
		const patch: PrivacyPatch = {
			id: newId(),
			name: `${source.name} ${patches.length + 1}`.slice(0, MOST_NAME_LETTERS),
			sourceId: source.id,
			area: { x: 0.3, y: 0.3, width: 0.4, height: 0.4 },
			style: 'blur',
			strength: 5,
			on: true,
			follow: kindOf(source).scrolls,
		};
		if (!session.do({ type: 'addPatch', patch })) return;
		this.placing = 'patches';
		this.selected = patch.id;
	}

	/** Goes back one change. Framings and patches that were added stay: going back must not uncover anything. */
	undo(): void {
		this.session.undo(this.#steps.back());
	}
}

/** What is set up in the desk's side sheet. One thing at a time. */
import type { Channel } from '../../core/show/mix/mix.ts';
import type { Cue } from '../../core/show/runsheet/cue.ts';
import type { Scene } from '../../core/show/scenes/scene.ts';
import type { Source } from '../../core/show/sources/source.ts';
import type { DeskSession } from './desk-session.svelte.ts';
import { SceneEditing } from './scenes/scene-editing.svelte.ts';
import { SourceEditing } from './sources/source-editing.svelte.ts';

/** What was opened. */
type Opened =
	| { is: 'scene'; editing: SceneEditing }
	| { is: 'source'; editing: SourceEditing }
	| { is: 'channel'; channelId: string }
	| { is: 'cue'; cueId: string }
	| { is: 'overlays' }
	| { is: 'delivery' }
	| { is: 'crew' };

/** What was opened and is still there, as it is now. */
export type SheetSubject =
	| { is: 'scene'; editing: SceneEditing; scene: Scene }
	| { is: 'source'; editing: SourceEditing; source: Source }
	| { is: 'channel'; channel: Channel }
	| { is: 'cue'; cue: Cue }
	| { is: 'overlays' }
	| { is: 'delivery' }
	| { is: 'crew' };

export class SideSheet {
	#session: DeskSession;
	#opened = $state.raw<Opened | null>(null);

	constructor(session: DeskSession) {
		this.#session = session;
	}

	/** Null while nothing is set up, and when what was opened has been removed. */
	get subject(): SheetSubject | null {
		const opened = this.#opened;
		switch (opened?.is) {
			case undefined:
				return null;
			case 'scene': {
				const { editing } = opened;
				const { scene } = editing;
				return scene && { is: 'scene', editing, scene };
			}
			case 'source': {
				const { editing } = opened;
				const { source } = editing;
				return source && { is: 'source', editing, source };
			}
			case 'channel': {
				const channel = this.#session.show.state?.setup.channels.find(({ id }) => id === opened.channelId);
				return channel ? { is: 'channel', channel } : null;
			}
			case 'cue': {
				const cue = this.#session.show.state?.setup.cues.find(({ id }) => id === opened.cueId);
				return cue ? { is: 'cue', cue } : null;
			}
			case 'overlays':
			case 'delivery':
			case 'crew':
				return { is: opened.is };
		}
	}

	editScene(sceneId: string): void {
		this.#opened = { is: 'scene', editing: new SceneEditing(this.#session, sceneId) };
	}

	editSource(sourceId: string): void {
		this.#opened = { is: 'source', editing: new SourceEditing(this.#session, sourceId) };
	}

	editChannel(channelId: string): void {
		this.#opened = { is: 'channel', channelId };
	}

	editCue(cueId: string): void {
		this.#opened = { is: 'cue', cueId };
	}

	editOverlays(): void {
		this.#opened = { is: 'overlays' };
	}

	editDelivery(): void {
		this.#opened = { is: 'delivery' };
	}

	writeToCrew(): void {
		this.#opened = { is: 'crew' };
	}

	close(): void {
		this.#opened = null;
	}
}

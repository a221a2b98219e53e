/** Lines to the cameras of the network that the show has, one for each source. */
import type { Source } from '../core/show/sources/source.ts';
import { CameraLine } from './sources/camera-line.ts';

export class CameraLines {
	readonly #lines = new Map<string, CameraLine>();
	readonly #urlOf: (cameraId: string) => string;
	readonly #onChange: (sourceId: string) => void;

	/**
	 * @param urlOf the socket on which a camera's media come
	 * @param onChange called when something else comes for a source than before
	 */
	constructor(urlOf: (cameraId: string) => string, onChange: (sourceId: string) => void) {
		this.#urlOf = urlOf;
		this.#onChange = onChange;
	}

	/** By source. */
	get all(): ReadonlyMap<string, CameraLine> {
		return this.#lines;
	}

	follow(sources: readonly Source[]): void {
		const wanted = new Map(
			sources.flatMap((source) => (source.kind === 'network' ? [[source.id, source.cameraId]] : [])),
		);
		for (const [id, line] of this.#lines)
			if (wanted.get(id) !== line.cameraId) {
				line.close();
				this.#lines.delete(id);
			}
		for (const [id, cameraId] of wanted)
			if (!this.#lines.has(id!))
				this.#lines.set(id!, new CameraLine(cameraId!, this.#urlOf(cameraId!), () => this.#onChange(id!)));
	}

	close(): void {
		for (const line of this.#lines.values()) line.close();
		this.#lines.clear();
	}
}

/** Scenes of as many guests as are there: their seats stand side by side, and whoever comes or goes makes the others move. */
import type { Layer, Scene } from '../scenes/scene.ts';
import type { ShowState } from '../state.ts';

/** Cells of these numbers of columns and rows are nearest to a head and shoulders; by guests. */
const GRIDS: readonly (readonly [columns: number, rows: number])[] = [
	[1, 1],
	[1, 1],
	[2, 1],
	[2, 2],
	[2, 2],
	[3, 2],
	[3, 2],
];
/** Between two cells, in parts of the picture's width; none at its edges. */
const GAP = 0.01;

/** Where each of so many guests stands, in parts of the picture, row by row; a last row that is not full stands in the middle. */
export function cellsOf(guests: number): Layer['box'][] {
	const side = Math.ceil(Math.sqrt(guests));
	const [columns, rows] = GRIDS[guests] ?? [side, Math.ceil(guests / side)];
	// The picture is wider than it is high, and both gaps look alike.
	const [across, down] = [GAP, (GAP * 16) / 9];
	const [width, height] = [(1 - (columns - 1) * across) / columns, (1 - (rows - 1) * down) / rows];
	return Array.from({ length: guests }, (_, i) => {
		const row = Math.floor(i / columns);
		const inRow = Math.min(columns, guests - row * columns);
		const left = ((columns - inRow) * (width + across)) / 2;
		return { x: left + (i % columns) * (width + across), y: row * (height + down), width, height };
	});
}

interface Parts {
	scenes: Scene[];
	sources: ShowState['setup']['sources'];
	guests: ShowState['live']['guests'];
}

/** Keeps what it made: what was the same before is the same object. */
export class Gathering {
	#from: Parts | null = null;
	#made: Scene[] = [];

	/** Scenes as viewers get them. */
	of(parts: Parts): Scene[] {
		const from = this.#from;
		const isSame = from && (Object.keys(parts) as (keyof Parts)[]).every((each) => from[each] === parts[each]);
		if (isSame) return this.#made;
		const before = this.#made;
		const made = parts.scenes.map((scene) => {
			if (!scene.gathers) return scene;
			const now = gathered(scene, parts);
			const known = before.find(({ id }) => id === scene.id);
			return known && JSON.stringify(known) === JSON.stringify(now) ? known : now;
		});
		this.#from = parts;
		// A guest who is only renamed moves nobody.
		const isAsBefore = made.length === before.length && made.every((scene, i) => scene === before[i]);
		return (this.#made = isAsBefore ? before : parts.scenes.some(({ gathers }) => gathers) ? made : parts.scenes);
	}
}

/** A scene with the seats that are taken side by side, and without the others; what is no seat stays where it is. */
export function gathered(scene: Scene, { sources, guests }: Omit<Parts, 'scenes'>): Scene {
	const seats = new Set(sources.filter((source) => source.kind === 'seat').map(({ id }) => id));
	const taken = (seatId: string) => guests.some((guest) => guest.isIn && guest.seen && guest.seatId === seatId);
	const layers = scene.layers.filter(({ sourceId, hidden }) => !seats.has(sourceId) || (taken(sourceId) && !hidden));
	const cells = cellsOf(layers.filter(({ sourceId }) => seats.has(sourceId)).length);
	return {
		...scene,
		layers: layers.map((layer) => (seats.has(layer.sourceId) ? { ...layer, box: cells.shift()!, fit: 'fill' } : layer)),
	};
}

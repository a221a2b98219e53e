/** What was to be seen where in the program: written down with each take, for clips that are cut out afterwards. */
import { WHOLE } from '../show/basics.ts';
import type { Layer } from '../show/scenes/scene.ts';
import type { ShowState } from '../show/state.ts';
import type { CropPoint } from './crop.ts';

/** Middles of what was shown, in parts of a picture's width, to a thousandth. */
export interface Focus {
	/** Of the program: of its largest layer. */
	program: number;
	/** Of sources, as they came, by the framing in which they were shown; the largest first. */
	sources: { id: string; x: number }[];
}

/** As many as fit a line of the log. */
const MOST_SOURCES = 4;

/** Null where nothing is in the program. */
export function focusOf({ setup, live }: ShowState): Focus | null {
	const scene = setup.scenes.find(({ id }) => id === live.program);
	const layers = (scene?.layers ?? []).filter(({ hidden, opacity }) => !hidden && opacity > 0);
	if (layers.length === 0) return null;
	const area = ({ box }: Layer) => box.width * box.height;
	// Of two that are as large, the one in front.
	const largest = layers.toReversed().toSorted((a, b) => area(b) - area(a));
	const [first] = largest;
	const sources = largest.slice(0, MOST_SOURCES).map((layer) => {
		const source = setup.sources.find(({ id }) => id === layer.sourceId);
		const { x, width } = source?.framings.find(({ id }) => id === layer.framingId)?.crop ?? WHOLE;
		const { crop } = layer;
		return { id: layer.sourceId, x: thousandths(x + width * (crop.x + crop.width / 2)) };
	});
	return { program: thousandths(Math.min(1, Math.max(0, first!.box.x + first!.box.width / 2))), sources };
}

function thousandths(part: number): number {
	return Math.round(1000 * part) / 1000;
}

/**
 * A crop that follows what was on air.
 * @param said with seconds from the recording's start; what was on air at its start may lie before it
 * @param sourceId of what was recorded apart; null for the program
 */
export function followed(said: readonly (Focus & { atS: number })[], sourceId: string | null): CropPoint[] {
	const points: CropPoint[] = [];
	for (const { atS, program, sources } of said) {
		const x = sourceId === null ? program : sources.find(({ id }) => id === sourceId)?.x;
		if (x === undefined || points.at(-1)?.x === x) continue;
		points.push({ atS: Math.max(0, atS), x, jumps: true });
	}
	// Of what lies before the start, the last one counts.
	return points.filter(({ atS }, i) => points[i + 1]?.atS !== atS);
}

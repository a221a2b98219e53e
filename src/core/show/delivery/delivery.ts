/** How an event is delivered: what the line carries, what the person has chosen, and what viewers see when nothing comes. */
import * as v from 'valibot';
import { deliveryPlan, type DeliveryPlan } from '../../delivery/rates.ts';
import { idSchema, timeSchema, within } from '../basics.ts';
import { plainCard } from '../sources/kinds/card.ts';
import type { Scene } from '../scenes/scene.ts';
import { kindOf, plainSource, type Source } from '../sources/source.ts';
import { MOST_DESTINATIONS } from './destination.ts';
import { apartSchema } from './tracks.ts';
import type { Live, Setup } from '../state.ts';

/** Measurements of the line that are remembered. */
export const MOST_LINES = 20;

export const renditionSchema = v.object({
	width: within(16, 8192),
	height: within(16, 8192),
	fps: within(1, 240),
	kbps: within(50, 200_000),
	destinationIds: v.pipe(v.array(idSchema), v.maxLength(MOST_DESTINATIONS)),
});

export const lineSchema = v.object({
	/** Upload of each run, kbit/s. */
	runsKbps: v.pipe(v.array(within(0, 100_000_000)), v.minLength(1), v.maxLength(10)),
	/** Milliseconds since 1970. */
	at: timeSchema,
});

export const deliverySchema = v.object({
	/** Rate of the best rendition, chosen by hand; null leaves it to the arithmetic. */
	chosenKbps: v.nullable(within(100, 50_000)),
	/** The card that viewers see while the program is away; null is Bivvo's own. */
	holdingId: v.nullable(idSchema),
	/** Minutes without the program after which a broadcast ends by itself. */
	holdMinutes: within(1, 240),
	/** False when the program of a broadcast is not to be recorded. */
	records: v.optional(v.boolean(), true),
	/** What is recorded beside the program. */
	apart: v.optional(apartSchema, () => ({ sourceIds: [], channelIds: [] })),
});

export type Line = v.InferOutput<typeof lineSchema>;
export type Delivery = v.InferOutput<typeof deliverySchema>;

export function plainDelivery(): Delivery {
	return {
		chosenKbps: null,
		holdingId: null,
		holdMinutes: 30,
		records: true,
		apart: { sourceIds: [], channelIds: [] },
	};
}

const OWN_HOLDING = plainSource('bivvo-holding', 'Back shortly', {
	kind: 'card',
	card: plainCard({ lines: [{ says: 'text', text: 'Back shortly' }, { says: 'event' }] }),
});

/** What viewers see while the program is away: the event's card for that, or one of Bivvo's own. */
export function holdingCard({ sources, delivery }: Pick<Setup, 'sources' | 'delivery'>): Source {
	return sources.find((source) => source.id === delivery.holdingId && kindOf(source).canHold) ?? OWN_HOLDING;
}

/** The scene that shows nothing but what holds viewers, or else another card; null when there is none. */
export function holdingScene(setup: Pick<Setup, 'sources' | 'scenes' | 'delivery'>): Scene | null {
	const { id } = holdingCard(setup);
	const cards = setup.sources.filter((source) => kindOf(source).canHold).map((source) => source.id);
	const shows = ({ layers }: Scene) => (layers.length === 1 ? layers[0]!.sourceId : null);
	const ofCards = setup.scenes.filter((scene) => cards.includes(shows(scene) ?? ''));
	return ofCards.find((scene) => shows(scene) === id) ?? ofCards[0] ?? null;
}

/** Runs that differ by more than this part of the highest disagree. */
const UNSTEADY = 0.25;

/** What may be counted on: the middle of the runs, or the lowest when they disagree. */
export function judgeLine({ runsKbps }: Line): { kbps: number; steady: boolean } {
	const sorted = runsKbps.toSorted((a, b) => a - b);
	const steady = sorted.at(-1)! - sorted[0]! <= UNSTEADY * sorted.at(-1)!;
	return { kbps: steady ? sorted[sorted.length >> 1]! : sorted[0]!, steady };
}

/** The part of the show that decides how it is sent. */
export interface Deliverable {
	setup: Pick<Setup, 'picture' | 'destinations' | 'delivery'>;
	live: Pick<Live, 'lines'>;
}

/** Sizes and rates for the destinations that are ticked. */
export function planDelivery({ setup, live }: Deliverable): DeliveryPlan {
	const { picture, destinations, delivery } = setup;
	const newest = live.lines.at(-1);
	return deliveryPlan({
		picture,
		destinations: destinations.filter(({ ticked }) => ticked),
		lineKbps: newest ? judgeLine(newest).kbps : null,
		chosenKbps: delivery.chosenKbps,
	});
}

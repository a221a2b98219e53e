/**
 * Upload arithmetic: which sizes and rates a broadcast is sent in, from what the hosts take and what the line carries.
 * All tables are here; rates in kbit/s.
 */

export interface PictureForm {
	width: number;
	height: number;
	fps: number;
}

/** Limits of the host; null where it names none. */
export interface Caps {
	maxHeight: number | null;
	/** Picture and sound together. */
	maxKbps: number | null;
	maxFps: number | null;
}

/** One encoding, sent to one destination or several. */
export interface Rendition extends PictureForm {
	kbps: number;
	destinationIds: string[];
}

export interface DeliveryPlan {
	/** The best first; never empty: without a destination it is what is recorded. */
	renditions: Rendition[];
	/** (picture + sound) of each destination, added up. */
	totalKbps: number;
	/** What may be used of the line: half of what was measured; null while nothing was. */
	allowedKbps: number | null;
	/** Why it is so. */
	reasons: DeliveryReason[];
	/** What would go wrong: nobody should go on air over these without knowing. */
	warnings: DeliveryWarning[];
}

export type DeliveryReason =
	| { is: 'gets'; name: string; picture: PictureForm; kbps: number; maxHeight: number | null; maxKbps: number | null }
	/** `kbps` of the picture, of each destination; sound comes on top. */
	| { is: 'total'; kbps: number[]; totalKbps: number }
	| { is: 'lineUnknown' }
	| { is: 'line'; lineKbps: number; allowedKbps: number }
	| { is: 'chosen'; kbps: number };

export type DeliveryWarning =
	| { is: 'overLine'; totalKbps: number }
	/** More than what many viewers' own lines carry. */
	| { is: 'overViewers'; kbps: number }
	| { is: 'overCap'; name: string; kbps: number; maxKbps: number }
	| { is: 'littleRate'; kbps: number; picture: PictureForm };

export interface DeliveryWish {
	picture: PictureForm;
	destinations: readonly ({ id: string; name: string } & Caps)[];
	/** Measured upload of the line, or null. */
	lineKbps: number | null;
	/** The person's own choice for the best rendition, or null. */
	chosenKbps: number | null;
}

export const SOUND_KBPS = 128;
export const MOST_RENDITIONS = 3;
/** The rest of the line is for its bad moments and for everybody else on it. */
const PART_OF_LINE = 0.5;
/** Hosts count headers and short peaks too. */
const PART_OF_CAP = 0.9;
/** Bits for each pixel that keep faces clean at 30 frames a second, and those below which a smaller picture is better. */
const GOOD_BITS = 0.09;
const LEAST_BITS = 0.04;
/** Above this rate the picture stalls repeatedly for viewers on a mobile or shared line. */
export const VIEWERS_KBPS = 5000;
/** Bits for each pixel of what is recorded to be edited. */
export const TRACK_BITS = 0.13;
/** Frames a second, beyond which each counts half: two that follow so soon are nearly alike. */
const FULL_FPS = 30;
/** Less than this is no picture to anybody, kbit/s. */
const LEAST_KBPS = 100;
/** Rates are rounded to these steps, kbit/s: what is good, and what caps and lines leave. */
const GOOD_STEP_KBPS = 100;
const CAP_STEP_KBPS = 50;
/** How far a rate steps down while a host or the line cannot follow, and up again; and where it stops, kbit/s. */
const STEP_DOWN = 0.7;
const STEP_UP = 1.2;
const LEAST_STEPPED_KBPS = 200;
const LEAST_STEPPED_PART = 1 / 4;
/** Heights to choose from, each with even sides in the picture's own shape. */
export const HEIGHTS = [1080, 720, 540, 360, 270] as const;

function weightedFrames(fps: number): number {
	return Math.min(fps, FULL_FPS) + Math.max(0, fps - FULL_FPS) / 2;
}

export function kbpsAt(form: PictureForm, bits: number): number {
	const kbps = (form.width * form.height * weightedFrames(form.fps) * bits) / 1000;
	return Math.max(LEAST_KBPS, Math.round(kbps / GOOD_STEP_KBPS) * GOOD_STEP_KBPS);
}

/** Rate at which a picture is good, rounded to a hundred. */
export function goodKbps(form: PictureForm): number {
	return kbpsAt(form, GOOD_BITS);
}

/** Even, and in the same shape. */
export function widthFor({ width, height }: { width: number; height: number }, lines: number): number {
	return 2 * Math.round((lines * width) / height / 2);
}

function formsOf({ width, height, fps }: PictureForm): PictureForm[] {
	const smaller = HEIGHTS.filter((each) => each < height);
	return [height, ...smaller].map((each) => ({
		width: widthFor({ width, height }, each),
		height: each,
		fps,
	}));
}

/** The best form and rate that caps and a rate allow; the smallest form when nothing does. */
function bestWithin(picture: PictureForm, caps: Caps, mostKbps: number): PictureForm & { kbps: number } {
	const tooMany = caps.maxFps !== null && picture.fps > caps.maxFps && picture.fps % 2 === 0;
	const fps = tooMany ? picture.fps / 2 : picture.fps;
	const allowed = formsOf({ ...picture, fps }).filter(({ height }) => height <= (caps.maxHeight ?? Infinity));
	const form =
		allowed.find((each) => kbpsAt(each, LEAST_BITS) <= mostKbps) ?? allowed.at(-1) ?? formsOf(picture).at(-1)!;
	const stepped = Math.floor(mostKbps / CAP_STEP_KBPS) * CAP_STEP_KBPS;
	return { ...form, kbps: Math.min(goodKbps(form), Math.max(LEAST_KBPS, stepped)) };
}

/** What a host's cap leaves for the picture. */
function capKbps({ maxKbps }: Caps): number {
	return maxKbps === null ? Infinity : PART_OF_CAP * maxKbps - SOUND_KBPS;
}

/** @returns sizes and rates, with the arithmetic in words */
export function deliveryPlan({ picture, destinations, lineKbps, chosenKbps }: DeliveryWish): DeliveryPlan {
	const allowedKbps = lineKbps === null ? null : Math.round(PART_OF_LINE * lineKbps);
	const share =
		allowedKbps === null || destinations.length === 0 ? Infinity : allowedKbps / destinations.length - SOUND_KBPS;
	const most = (caps: Caps, lineShare: number) => Math.min(capKbps(caps), chosenKbps ?? lineShare);
	// What the caps keep small leaves more of the line to the others.
	const spare = destinations.reduce(
		(sum, each) => sum + Math.max(0, share - Math.min(capKbps(each), goodKbps(picture))),
		0,
	);
	const wanting = destinations.filter((each) => capKbps(each) > share).length;
	const lineShare = Number.isFinite(share) && wanting > 0 ? share + spare / wanting : share;
	const each = destinations.map((destination) => ({
		destination,
		...bestWithin(picture, destination, most(destination, lineShare)),
	}));
	const renditions = merged(each.map(({ destination, ...form }) => ({ ...form, destinationIds: [destination.id] })));
	if (renditions.length === 0)
		renditions.push({ ...picture, kbps: chosenKbps ?? goodKbps(picture), destinationIds: [] });
	const totalKbps = renditions.reduce(
		(sum, { kbps, destinationIds }) => sum + destinationIds.length * (kbps + SOUND_KBPS),
		0,
	);
	const plan = { renditions, totalKbps, allowedKbps };
	const wish = { picture, destinations, lineKbps, chosenKbps };
	return { ...plan, reasons: reasonsOf(plan, wish), warnings: warningsOf(plan, wish) };
}

/** The same form is encoded once; beyond MOST_RENDITIONS the two that are nearest share what both hosts take. */
function merged(wanted: Rendition[]): Rendition[] {
	const sorted = wanted.toSorted((a, b) => b.height - a.height || b.fps - a.fps || b.kbps - a.kbps);
	const list: Rendition[] = [];
	for (const one of sorted) {
		const same = list.find(({ height, fps, kbps }) => height === one.height && fps === one.fps && kbps === one.kbps);
		if (same) same.destinationIds.push(...one.destinationIds);
		else list.push({ ...one, destinationIds: [...one.destinationIds] });
	}
	while (list.length > MOST_RENDITIONS) {
		const ratio = (i: number) => Math.abs(Math.log(list[i]!.kbps / list[i + 1]!.kbps));
		let nearest = 0;
		for (let i = 1; i + 1 < list.length; i++) if (ratio(i) < ratio(nearest)) nearest = i;
		const [higher, lower] = [list[nearest]!, list[nearest + 1]!];
		const { width, height } = lower;
		const fps = Math.min(higher.fps, lower.fps);
		const kbps = Math.min(higher.kbps, lower.kbps);
		const destinationIds = [...higher.destinationIds, ...lower.destinationIds];
		list.splice(nearest, 2, { width, height, fps, kbps, destinationIds });
	}
	return list;
}

type Made = Pick<DeliveryPlan, 'renditions' | 'totalKbps' | 'allowedKbps'>;

function reasonsOf({ renditions, totalKbps, allowedKbps }: Made, wish: DeliveryWish): DeliveryReason[] {
	const { destinations, lineKbps, chosenKbps } = wish;
	const reasons = renditions.flatMap(({ width, height, fps, kbps, destinationIds }) =>
		destinationIds.map((id): DeliveryReason => {
			const { name, maxHeight, maxKbps } = destinations.find((each) => each.id === id)!;
			return { is: 'gets', name, picture: { width, height, fps }, kbps, maxHeight, maxKbps };
		}),
	);
	if (destinations.length > 0) {
		const kbps = renditions.flatMap((rendition) => rendition.destinationIds.map(() => rendition.kbps));
		reasons.push({ is: 'total', kbps, totalKbps });
	}
	reasons.push(allowedKbps === null ? { is: 'lineUnknown' } : { is: 'line', lineKbps: lineKbps!, allowedKbps });
	if (chosenKbps !== null) reasons.push({ is: 'chosen', kbps: chosenKbps });
	return reasons;
}

function warningsOf({ renditions, totalKbps, allowedKbps }: Made, { destinations }: DeliveryWish): DeliveryWarning[] {
	const warnings: DeliveryWarning[] = [];
	if (allowedKbps !== null && totalKbps > allowedKbps) warnings.push({ is: 'overLine', totalKbps });
	for (const rendition of renditions) {
		const { width, height, fps, destinationIds } = rendition;
		const kbps = rendition.kbps + SOUND_KBPS;
		if (destinationIds.length > 0 && kbps > VIEWERS_KBPS) warnings.push({ is: 'overViewers', kbps });
		for (const { id, name, maxKbps } of destinations)
			if (destinationIds.includes(id) && maxKbps !== null && kbps > maxKbps)
				warnings.push({ is: 'overCap', name, kbps, maxKbps });
		if (rendition.kbps < kbpsAt(rendition, LEAST_BITS))
			warnings.push({ is: 'littleRate', kbps: rendition.kbps, picture: { width, height, fps } });
	}
	return warnings;
}

/** Rate to step to while a host or the line cannot follow, and back again. */
export function steppedKbps(nowKbps: number, plannedKbps: number, direction: 'down' | 'up'): number {
	const least = Math.min(plannedKbps, Math.max(LEAST_STEPPED_KBPS, plannedKbps * LEAST_STEPPED_PART));
	const to = direction === 'down' ? nowKbps * STEP_DOWN : nowKbps * STEP_UP;
	return Math.round(Math.min(plannedKbps, Math.max(least, to)));
}

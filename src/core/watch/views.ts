/**
 * Views: small pictures that the page which makes the program makes as well, for guests, for a desk that only watches and for
 * panels; each is made once, and only while somebody watches it.
 */
import type { Rect } from '../picture/geometry.ts';

/** Size and pace of a view. `wall` holds all scenes, side by side. */
export const VIEWS = {
	program: { width: 640, height: 360, fps: 15, kbps: 450 },
	/** The scene that the crew has chosen for guests to see. */
	forGuests: { width: 640, height: 360, fps: 15, kbps: 450 },
	/** What stands behind the words in the hall, or instead of them. */
	hall: { width: 1280, height: 720, fps: 15, kbps: 1800 },
	next: { width: 640, height: 360, fps: 7.5, kbps: 250 },
	wall: { width: 1024, height: 576, fps: 3, kbps: 300 },
} as const;

export type View = keyof typeof VIEWS;
export type ViewForm = (typeof VIEWS)[View];
export const VIEW_NAMES = Object.keys(VIEWS) as View[];

/** VP8 (RFC 6386): every browser with WebCodecs decodes it, and it encodes with the least work. */
export const VIEW_CODEC = 'vp8';

export function isView(name: string | null): name is View {
	return name !== null && name in VIEWS;
}

/**
 * Where a scene lies on the wall.
 * @param count scenes on it
 * @param index of this one, from 0
 * @returns pixels; sides are even, at least 8 wide
 */
export function wallCell(count: number, index: number): Rect {
	const across = Math.max(1, Math.ceil(Math.sqrt(count)));
	const { width, height } = VIEWS.wall;
	const [w, h] = [2 * Math.floor(width / across / 2), 2 * Math.floor(height / across / 2)];
	return { x: (index % across) * w, y: Math.floor(index / across) * h, width: w, height: h };
}

/** Where a scene is in a picture of the wall; null where that shows other scenes than these. @param order its mark */
export function sceneOnWall(sceneIds: readonly string[], sceneId: string, order: number): Rect | null {
	const index = sceneIds.indexOf(sceneId);
	return index >= 0 && order === orderMark(sceneIds) ? wallCell(sceneIds.length, index) : null;
}

/** Tells one order of scenes from another: whoever shows the wall knows by it whether its cells are what they think. FNV-1a. */
export function orderMark(sceneIds: readonly string[]): number {
	let mark = 0x811c9dc5;
	for (const letter of sceneIds.join(' ')) mark = Math.imul(mark ^ letter.codePointAt(0)!, 0x01000193);
	return mark >>> 0;
}

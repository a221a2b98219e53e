/** Shapes as planes of alpha: rounded corners, and the fields that wipes follow. Drawn once and kept. */
import type { Direction } from '../show/scenes/scene.ts';

/** How finely the edge of a rounded shape is sampled, in each direction. */
const SAMPLES = 4;

/** 255 within a rectangle with rounded corners, 0 outside, the share of the pixel on its edge. */
export function cornerMask(width: number, height: number, radius: number): Uint8Array {
	const mask = new Uint8Array(width * height).fill(255);
	const r = Math.min(radius, width / 2, height / 2);
	const size = Math.ceil(r);
	for (let y = 0; y < size; y++)
		for (let x = 0; x < size; x++) {
			let inside = 0;
			for (let i = 0; i < SAMPLES * SAMPLES; i++) {
				const dx = r - (x + ((i % SAMPLES) + 0.5) / SAMPLES);
				const dy = r - (y + (Math.floor(i / SAMPLES) + 0.5) / SAMPLES);
				if (dx <= 0 || dy <= 0 || dx * dx + dy * dy <= r * r) inside++;
			}
			const alpha = Math.round((255 * inside) / (SAMPLES * SAMPLES));
			for (const row of [y, height - 1 - y])
				for (const column of [x, width - 1 - x]) mask[row * width + column] = alpha;
		}
	return mask;
}

/** For each pixel when a wipe reaches it: 0 first, 255 last. */
export function wipeField(direction: Direction, width: number, height: number): Uint8Array {
	const field = new Uint8Array(width * height);
	const reached = reaching(direction, width / height);
	for (let y = 0; y < height; y++)
		for (let x = 0; x < width; x++)
			field[y * width + x] = Math.round(255 * reached((x + 0.5) / width, (y + 0.5) / height));
	return field;
}

/** When a wipe reaches a place, both in parts. */
function reaching(direction: Direction, aspect: number): (x: number, y: number) => number {
	switch (direction) {
		case 'left':
			return (x) => 1 - x;
		case 'right':
			return (x) => x;
		case 'up':
			return (_, y) => 1 - y;
		case 'down':
			return (_, y) => y;
		case 'downRight':
			return (x, y) => (x + y) / 2;
		case 'downLeft':
			return (x, y) => (1 - x + y) / 2;
		case 'circle': {
			const furthest = Math.hypot(0.5 * aspect, 0.5);
			return (x, y) => Math.hypot((x - 0.5) * aspect, y - 0.5) / furthest;
		}
		case 'box':
			return (x, y) => 2 * Math.max(Math.abs(x - 0.5), Math.abs(y - 0.5));
	}
}

/** Width of a wipe's soft edge, in steps of its field. */
const SOFT = 12;

/** The second picture's alpha for each step of a field, at `progress` of the wipe. */
export function wipeTable(progress: number): Uint8Array {
	const edge = progress * (255 + SOFT);
	return Uint8Array.from({ length: 256 }, (_, i) => Math.round(255 * Math.min(1, Math.max(0, (edge - i) / SOFT))));
}

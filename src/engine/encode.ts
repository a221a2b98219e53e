/** How the program is encoded: the one place where sizes become rates and codec names. */
import type { Picture } from '../core/show/state.ts';

/** Key frames this far apart: what hosts ask for. */
export const KEY_EVERY_S = 2;
export const SOUND_KBPS = 128;

/** Bits per pixel that keep faces clean at 30 frames a second; fewer are needed for each further frame. */
const BITS_PER_PIXEL = 0.09;

/** Rate of the picture in kbit/s, rounded to a hundred. */
export function pictureKbps({ width, height, fps }: Picture): number {
	const frames = Math.min(fps, 30) + Math.max(0, fps - 30) / 2;
	return Math.round((width * height * frames * BITS_PER_PIXEL) / 1e5) * 100;
}

/** H.264 main profile at the lowest level that holds the picture (ITU-T H.264, table A-1). */
export function codecOf({ width, height, fps }: Picture): string {
	const macroblocks = Math.ceil(width / 16) * Math.ceil(height / 16);
	const rate = macroblocks * fps;
	const levels = [
		{ level: 0x1f, blocks: 3600, rate: 108_000 },
		{ level: 0x20, blocks: 5120, rate: 216_000 },
		{ level: 0x28, blocks: 8192, rate: 245_760 },
		{ level: 0x2a, blocks: 8704, rate: 522_240 },
	];
	const { level } = levels.find((each) => macroblocks <= each.blocks && rate <= each.rate) ?? { level: 0x33 };
	return `avc1.4d00${level.toString(16)}`;
}

export function videoEncoderConfig(picture: Picture): VideoEncoderConfig {
	return {
		codec: codecOf(picture),
		width: picture.width,
		height: picture.height,
		framerate: picture.fps,
		bitrate: pictureKbps(picture) * 1000,
		bitrateMode: 'variable',
		latencyMode: 'realtime',
		avc: { format: 'avc' },
	};
}

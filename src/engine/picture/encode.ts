/** How a rendition is encoded: where sizes become codec names. */
import type { PictureForm } from '../../core/delivery/rates.ts';
import type { Hardware as Found } from '../../core/machine/machine.ts';

/** Key frames this far apart: what hosts ask for. */
export const KEY_EVERY_S = 2;

/** H.264 main profile at the lowest level that holds the picture (ITU-T H.264, table A-1). */
export function codecOf({ width, height, fps }: PictureForm): string {
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

/** Whether an encoder in hardware is used: by the browser's own choice until a test has shown what it is worth. */
export type Hardware = Found | 'untested';

const ACCELERATION: Record<Hardware, HardwareAcceleration> = {
	untested: 'no-preference',
	works: 'prefer-hardware',
	none: 'no-preference',
	spoils: 'prefer-software',
};

export function videoEncoderConfig(
	form: PictureForm,
	kbps: number,
	hardware: Hardware = 'untested',
): VideoEncoderConfig {
	return {
		codec: codecOf(form),
		width: form.width,
		height: form.height,
		framerate: form.fps,
		bitrate: kbps * 1000,
		bitrateMode: 'variable',
		latencyMode: 'realtime',
		hardwareAcceleration: ACCELERATION[hardware],
		avc: { format: 'avc' },
	};
}

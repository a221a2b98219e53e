import { readFileSync } from 'node:fs';
import { beforeEach, describe, expect, it } from 'vitest';
import { Compositor } from '../../core/picture/compositor.ts';
import { FrameMemory, type KernelExports } from '../../core/picture/planes.ts';
import type { PrivacyPatch } from '../../core/show/overlays/overlay.ts';
import { LiveInput } from './live-input.ts';

/** A camera's frame whose copying ends when the test says so, and which tells whether it was given back. */
class Frame {
	readonly visibleRect = { width: 16, height: 8 };
	readonly format = 'I420';
	timestamp = 0;
	closed = 0;
	finishCopy!: () => void;
	readonly copied = new Promise<void>((resolve) => (this.finishCopy = resolve));
	copyTo = () => this.copied;
	close = () => void this.closed++;
	get asVideoFrame(): VideoFrame {
		return this as unknown as VideoFrame;
	}
}

let compositor: Compositor;
let input: LiveInput;
let time = 1000;

beforeEach(() => {
	const memory = new WebAssembly.Memory({ initial: 2, maximum: 1024 });
	const module = new WebAssembly.Module(readFileSync('src/core/picture/kernels/build/kernels.wasm'));
	const { exports } = new WebAssembly.Instance(module, { env: { memory } });
	compositor = new Compositor(exports as unknown as KernelExports, new FrameMemory(memory), { width: 64, height: 36 });
	input = new LiveInput(compositor, time);
});

/** Frames that come 33 ms after one another by their stamps, each of them undelayed but for what is said. */
const put = (count: number, lateMs = 0) =>
	Array.from({ length: count }, () => {
		const frame = new Frame();
		frame.timestamp = 1000 * (time += 33);
		input.put(frame.asVideoFrame, time + lateMs);
		return frame;
	});
const closedOf = (frames: Frame[]) => frames.map(({ closed }) => closed);

describe('a source’s frames', () => {
	it('are chosen by the time at which they would have come undelayed', () => {
		const frames = [...put(2), ...put(2, 80)];
		expect(input.frame).toBe(frames[0]);
		input.chooseAt(time - 1);
		expect(input.frame).toBe(frames[2]);
		expect(closedOf(frames)).toEqual([1, 1, 0, 0]);
		input.chooseAt(time - 40);
		expect(input.frame).toBe(frames[2]);
		input.chooseAt(time);
		expect(input.frame).toBe(frames[3]);
		void input.close();
		expect(closedOf(frames)).toEqual([1, 1, 1, 1]);
		expect(input.info).toBeNull();
	});

	it('go back to their camera when more than a few wait, or when the source is closed', () => {
		const frames = put(7);
		expect(closedOf(frames)).toEqual([0, 1, 1, 0, 0, 0, 0]);
		void input.close();
		expect(closedOf(frames)).toEqual([1, 1, 1, 1, 1, 1, 1]);
	});

	it('keep no frame back that came while another one was copied', async () => {
		const [first] = put(1);
		const loading = input.planesAt();
		const later = put(3);
		input.chooseAt(time);
		expect(first!.closed).toBe(0);
		first!.finishCopy();
		expect(await loading).not.toBeNull();
		expect([first!, ...later].map(({ closed }) => closed)).toEqual([1, 1, 1, 0]);
		void input.close();
		expect(later.at(-1)!.closed).toBe(1);
	});

	it('are all given back when the source is closed in the middle of a copy', async () => {
		const [first] = put(1);
		const loading = input.planesAt();
		const [second] = put(1);
		input.chooseAt(time);
		void input.close();
		first!.finishCopy();
		await loading;
		expect([first!.closed, second!.closed]).toEqual([1, 1]);
	});

	it('are all patched while it is not known how far its page was scrolled before', async () => {
		const patch: PrivacyPatch = {
			id: 'numbers',
			name: 'Numbers',
			sourceId: 'share',
			area: { x: 0.25, y: 0.25, width: 0.25, height: 0.25 },
			style: 'solid',
			strength: 5,
			on: true,
			follow: true,
		};
		const covered = async (of: LiveInput, patches: PrivacyPatch[]) => {
			of.treat({ name: JSON.stringify(patches), adjust: null, patches });
			const frame = new Frame();
			frame.finishCopy();
			frame.timestamp = 1000 * (time += 33);
			of.put(frame.asVideoFrame, time);
			of.chooseAt(time);
			const { y } = (await of.planesAt())!;
			const luma = compositor.memory.bytes.slice(y, y + 16 * 8);
			return { uncertain: of.uncertain, pixels: luma.filter((value) => value !== 0).length };
		};
		// Placed on this picture it lies where it was placed; on an earlier one it covers all, until it is placed again.
		expect(await covered(input, [patch])).toMatchObject({ uncertain: false });
		const again = new LiveInput(compositor, time, [patch]);
		expect(await covered(again, [patch])).toEqual({ uncertain: true, pixels: 16 * 8 });
		const moved = { ...patch, area: { ...patch.area, x: 0.5 } };
		expect(await covered(again, [moved])).toMatchObject({ uncertain: false });
		// One that is certain does not hide that another one is not.
		expect(await covered(new LiveInput(compositor, time, [patch]), [patch, { ...moved, id: 'other' }])).toMatchObject({
			uncertain: true,
		});
	});

	it('are copied once each, however many ask', async () => {
		const [frame] = put(1);
		let copies = 0;
		frame!.copyTo = () => (copies++, frame!.copied);
		const both = Promise.all([input.planesAt(), input.planesAt()]);
		frame!.finishCopy();
		const [first, second] = await both;
		expect(second).toBe(first);
		expect(await input.planesAt()).toBe(first);
		expect(copies).toBe(1);
	});

	it('leave no scratch memory behind, also when a copy fails', async () => {
		const taken: number[] = [];
		const { memory } = compositor;
		const allocate = memory.allocate.bind(memory);
		memory.allocate = (length) => {
			taken.push(length);
			return allocate(length);
		};
		const released: number[] = [];
		const release = memory.release.bind(memory);
		memory.release = (at, length) => {
			released.push(length);
			release(at, length);
		};
		for (const format of ['NV12', 'RGBA']) {
			const broken = Object.assign(new Frame(), { format });
			broken.copyTo = () => Promise.reject(new Error('gone'));
			broken.timestamp = 1000 * (time += 33);
			input.put(broken.asVideoFrame, time);
			input.chooseAt(time);
			await expect(input.planesAt()).rejects.toThrow('gone');
		}
		// Of what was taken only the planes of the picture are kept.
		expect(taken).toHaveLength(3);
		expect(released).toEqual(taken.slice(1));
	});
});

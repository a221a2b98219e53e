/** The views that are watched now, and the sheet of the one that holds all scenes. */
import { BLACK } from '../../core/picture/colour.ts';
import type { Rect } from '../../core/picture/geometry.ts';
import type { FrameMemory, Planes } from '../../core/picture/planes.ts';
import { orderMark, VIEWS, wallCell, type View } from '../../core/watch/views.ts';
import type { ViewEncoder } from './view-encoder.ts';

/** What encodes a view. */
export type WatchedView = Pick<ViewEncoder, 'form' | 'takes' | 'encode'>;

export type WatchedEncoders = { readonly [V in View]?: WatchedView };

/** All scenes in one picture, a scene at a time. */
export class WallSheet {
	readonly planes: Planes;
	/** Of the scenes that it shows. */
	order = 0;
	readonly #memory: FrameMemory;
	#last = -1;

	constructor(memory: FrameMemory) {
		this.#memory = memory;
		const { width, height } = VIEWS.wall;
		this.planes = memory.allocatePlanes(width, height);
	}

	/** The scene whose turn it is, and where it goes; null without scenes. Another order of scenes begins on black. */
	turn(sceneIds: readonly string[]): { sceneId: string; cell: Rect } | null {
		const order = orderMark(sceneIds);
		if (order !== this.order) {
			this.order = order;
			this.#last = -1;
			this.#clear();
		}
		if (sceneIds.length === 0) return null;
		this.#last = (this.#last + 1) % sceneIds.length;
		return { sceneId: sceneIds[this.#last]!, cell: wallCell(sceneIds.length, this.#last) };
	}

	#clear(): void {
		const { y, u, v, bytes } = this.planes;
		const all = this.#memory.bytes;
		all.fill(BLACK.y, y, u);
		all.fill(BLACK.u, u, v);
		all.fill(BLACK.v, v, y + bytes);
	}

	/** Puts a picture of a cell's size there. */
	put(from: Planes, { x, y }: Rect): void {
		const all = this.#memory.bytes;
		const to = this.planes;
		const copy = (at: number, stride: number, out: number, outStride: number, width: number, height: number) => {
			for (let row = 0; row < height; row++)
				all.copyWithin(out + row * outStride, at + row * stride, at + row * stride + width);
		};
		copy(from.y, from.strideY, to.y + y * to.strideY + x, to.strideY, from.width, from.height);
		const chroma = (y / 2) * to.strideC + x / 2;
		const [width, height] = [from.width / 2, from.height / 2];
		copy(from.u, from.strideC, to.u + chroma, to.strideC, width, height);
		copy(from.v, from.strideC, to.v + chroma, to.strideC, width, height);
		to.version++;
	}
}

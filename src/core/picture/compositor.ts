/** Paints draw lists with the kernels. Knows planes and numbers, nothing of browsers. */
import { BLACK, WHITE, yuvOf, type AdjustTables, type Yuv } from './colour.ts';
import {
	wholePicture,
	type Blit,
	type DrawList,
	type DrawStep,
	type Joining,
	type Mask,
	type PatchStep,
	type Stage,
} from './draw-list.ts';
import type { Rect, Size } from './geometry.ts';
import { columnBytes, keyedWorkBytes, type FrameMemory, type KernelExports, type Planes } from './planes.ts';
import { cornerMask, wipeField, wipeTable } from './shapes.ts';

/** What a solid patch is filled with. */
const PATCH_COLOUR = yuvOf('#28303a');
const Q7 = 128;
/** A few scenes' worth of rounded layers, and the wipes. */
const MOST_SHAPES = 32;
/** Three planes each of what is scaled in a few scenes. */
const MOST_LAID_OUT = 64;
/** Program, Next, the wall's tiles, what is edited, and some to spare. */
const MOST_SMALLER = 12;

/** A picture's planes, by its id; every picture of the list must be there. */
type PlanesOf = (pictureId: string) => Planes;

type ColourKey = Extract<NonNullable<Blit['key']>, { by: 'colour' }>;

/** Rows of alpha, so many bytes apart. */
interface AlphaRows {
	at: number;
	stride: number;
}

/** What `layOut` has written, and answered. */
interface Columns {
	at: number;
	bytes: number;
	way: number;
}

export class Compositor {
	readonly memory: FrameMemory;
	#kernels: KernelExports;
	#picture: Planes;
	/** The two pictures of a transition. */
	#scratch: [Planes, Planes];
	/** A layer on its way to being blended, packed at its own size, with two alpha planes and one for chroma. */
	#layer: Planes;
	#alpha: [number, number, number];
	#opaque: number;
	#work = { at: 0, bytes: 0 };
	/** Grids of a patch's means, and a table. */
	#means: number;
	#table: number;
	/** Shapes and wipe fields that were drawn before, the one used longest ago first. */
	#shapes = new Map<string, { at: number; bytes: number }>();
	/** Columns of scaled planes, the ones used longest ago first. */
	#laidOut = new Map<string, Columns>();
	/** Pictures at half their size, and of which version; shared with the compositors for smaller pictures. */
	#halves: Map<Planes, { planes: Planes; version: number }>;
	/** Compositors for smaller pictures, by size, the one used longest ago first. */
	#smaller = new Map<string, Compositor>();
	/** What is given back when this compositor is of no more use. */
	#own: { at: number; bytes: number }[] = [];
	#rgba = { at: 0, bytes: 0 };

	/**
	 * @param size of the picture in pixels, even
	 * @param halves of a compositor that this one shares its pictures with
	 */
	constructor(
		kernels: KernelExports,
		memory: FrameMemory,
		size: Size,
		halves: Map<Planes, { planes: Planes; version: number }> = new Map(),
	) {
		this.#kernels = kernels;
		this.memory = memory;
		this.#halves = halves;
		const { width, height } = size;
		const take = (bytes: number) => {
			const at = this.memory.allocate(bytes);
			this.#own.push({ at, bytes });
			return at;
		};
		const planes = () => {
			const made = this.memory.allocatePlanes(width, height);
			this.#own.push({ at: made.y, bytes: made.bytes });
			return made;
		};
		this.#picture = planes();
		this.#scratch = [planes(), planes()];
		this.#layer = planes();
		const plane = () => take(width * height);
		this.#alpha = [plane(), plane(), plane()];
		this.#opaque = plane();
		this.memory.bytes.fill(255, this.#opaque, this.#opaque + width * height);
		this.#means = take(width * height);
		this.#table = take(256);
	}

	/**
	 * Paints a list.
	 * @returns where the finished picture lies: valid until the next call. It may be a source's own picture.
	 */
	compose({ base, above, black }: DrawList, planesOf: PlanesOf, stage: Stage): Planes {
		const out = this.#picture;
		let result: Planes;
		if ('steps' in base) result = this.#paint(base.steps, planesOf, stage, out);
		else {
			const from = this.#paint(base.from, planesOf, stage, this.#scratch[0]);
			const to = this.#paint(base.to, planesOf, stage, this.#scratch[1]);
			this.#join(out, from, to, base.joined);
			result = out;
		}
		// Planes of this compositor's own get a new picture each time.
		out.version++;
		if (above.length === 0 && black === 0) return result;
		if (result !== out) this.#copy(out, result);
		for (const step of above) this.#step(out, step, planesOf);
		if (black >= 256) this.#fill(out, BLACK, { x: 0, y: 0, ...stage.picture });
		else if (black > 0) {
			this.#fill(this.#scratch[0], BLACK, { x: 0, y: 0, ...stage.picture });
			this.#kernels.mix(out.y, out.y, this.#scratch[0].y, out.bytes, black);
		}
		return out;
	}

	/**
	 * Paints how much of what lies behind a layer is hidden by it: white where all of it, black where nothing. On
	 * white and on black a pixel of opacity a differs by 1 − a of the range of luma, so two paintings tell.
	 * @param stepsOn the layer's steps on a ground
	 * @returns planes that are valid until the next call
	 */
	composeOpacity(stepsOn: (ground: Yuv) => DrawStep[], planesOf: PlanesOf): Planes {
		const out = this.#picture;
		const luma = (ground: Yuv) => {
			for (const step of stepsOn(ground)) this.#step(out, step, planesOf);
			return this.memory.bytes.subarray(out.y, out.y + out.strideY * out.height);
		};
		const onWhite = luma(WHITE).slice();
		const onBlack = luma(BLACK);
		for (let i = 0; i < onBlack.length; i++) onBlack[i] = WHITE.y - Math.max(0, onWhite[i]! - onBlack[i]!);
		this.memory.bytes.fill(BLACK.u, out.u, out.y + out.bytes);
		out.version++;
		return out;
	}

	/** Corrects a picture and makes areas of it unreadable, in place. */
	treat(planes: Planes, adjust: AdjustTables | null, patches: readonly PatchStep[]): void {
		if (adjust) {
			const { width, height, strideY, strideC } = planes;
			const rowsC = (height + 1) >> 1;
			this.#lookUp(planes.y, strideY, planes.y, strideY, width, height, adjust.y);
			this.#lookUp(planes.u, strideC, planes.u, strideC, strideC, rowsC, adjust.u);
			this.#lookUp(planes.v, strideC, planes.v, strideC, strideC, rowsC, adjust.v);
		}
		for (const patch of patches) this.#patch(planes, patch);
	}

	#paint(steps: readonly DrawStep[], planesOf: PlanesOf, stage: Stage, out: Planes): Planes {
		const whole = wholePicture(steps, stage);
		if (whole !== null) return planesOf(whole);
		for (const step of steps) this.#step(out, step, planesOf);
		return out;
	}

	#step(out: Planes, step: DrawStep, planesOf: PlanesOf): void {
		if (step.step === 'patch') this.#patch(out, step);
		else if (step.step === 'blit') this.#blit(out, step, planesOf(step.pictureId));
		else if (step.opacity === 256 && !step.mask) this.#fill(out, step.colour, step.to);
		else {
			const layer = this.#packed(step.to);
			this.#fill(layer, step.colour, { x: 0, y: 0, width: step.to.width, height: step.to.height });
			this.#blend(out, step.to, layer, step.mask ? this.#maskRows(step.mask) : null, step.opacity);
		}
	}

	#join(out: Planes, from: Planes, to: Planes, joined: Joining): void {
		const kernels = this.#kernels;
		if (joined.way === 'mix') return kernels.mix(out.y, from.y, to.y, out.bytes, joined.weight);
		if (joined.way === 'slide') {
			const { dx, dy } = joined;
			const { width, height } = out;
			this.#copyShifted(
				out,
				from,
				dx > 0 ? dx - width : dx < 0 ? dx + width : 0,
				dy > 0 ? dy - height : dy < 0 ? dy + height : 0,
			);
			return this.#copyShifted(out, to, dx, dy);
		}
		this.#copy(out, from);
		const { width, height } = out;
		const { direction, progress } = joined;
		const field = this.#shape(`wipe ${direction}`, width * height, () => wipeField(direction, width, height));
		this.#lookUp(this.#alpha[0], width, field, width, width, height, wipeTable(progress));
		this.#blend(out, { x: 0, y: 0, width, height }, to, { at: this.#alpha[0], stride: width }, 256);
	}

	/** Draws a wipe's shape ahead of its first use, which would come in the middle of a transition. */
	prepareWipe(direction: Extract<Joining, { way: 'wipe' }>['direction']): void {
		const { width, height } = this.#picture;
		this.#shape(`wipe ${direction}`, width * height, () => wipeField(direction, width, height));
	}

	#copy(out: Planes, from: Planes): void {
		this.#kernels.copy(out.y, out.bytes, from.y, out.bytes, out.bytes, 1);
	}

	/** Copies what of a picture moved by (dx, dy) is still within `out`. Both are even. */
	#copyShifted(out: Planes, from: Planes, dx: number, dy: number): void {
		const plane = (to: number, at: number, width: number, height: number, x: number, y: number) => {
			const [columns, rows] = [width - Math.abs(x), height - Math.abs(y)];
			if (columns <= 0 || rows <= 0) return;
			const target = to + Math.max(0, y) * width + Math.max(0, x);
			const start = at + Math.max(0, -y) * width + Math.max(0, -x);
			this.#kernels.copy(target, width, start, width, columns, rows);
		};
		const { width, height } = out;
		plane(out.y, from.y, width, height, dx, dy);
		plane(out.u, from.u, width >> 1, height >> 1, dx >> 1, dy >> 1);
		plane(out.v, from.v, width >> 1, height >> 1, dx >> 1, dy >> 1);
	}

	#fill(out: Planes, colour: Yuv, { x, y, width, height }: Rect): void {
		const { strideY, strideC } = out;
		const atC = (y >> 1) * strideC + (x >> 1);
		const [widthC, heightC] = [(width + 1) >> 1, (height + 1) >> 1];
		this.#kernels.fill(out.y + y * strideY + x, strideY, width, height, colour.y);
		this.#kernels.fill(out.u + atC, strideC, widthC, heightC, colour.u);
		this.#kernels.fill(out.v + atC, strideC, widthC, heightC, colour.v);
	}

	#blit(out: Planes, blit: Blit, planes: Planes): void {
		const { to, mask, key, opacity, mirrored } = blit;
		let [from, region] = [planes, blit.from];
		// Half sizes first, or fine lines would flicker.
		while (region.width >= 2 * to.width && region.height >= 2 * to.height && from.width >= 4 && from.height >= 4) {
			from = this.#half(from);
			region = { x: region.x / 2, y: region.y / 2, width: region.width / 2, height: region.height / 2 };
		}
		if (opacity === 256 && !mask && !key && from.alpha === null) return this.#scale(out, to, from, region, mirrored);

		const { width, height } = to;
		const all = { x: 0, y: 0, width, height };
		// What is neither scaled nor turned is blended from where it lies.
		const isAsItIs =
			!mirrored && region.width === width && region.height === height && region.x % 2 === 0 && region.y % 2 === 0;
		const layer = isAsItIs ? partOf(from, region) : this.#packed(to);
		if (!isAsItIs) this.#scale(layer, all, from, region, mirrored);
		const alphas: AlphaRows[] = [];
		if (key?.by === 'light') {
			this.#lookUp(this.#alpha[0], width, layer.y, layer.strideY, width, height, key.table);
			alphas.push({ at: this.#alpha[0], stride: width });
		}
		if (from.alpha !== null && isAsItIs)
			alphas.push({ at: from.alpha + region.y * from.width + region.x, stride: from.width });
		else if (from.alpha !== null) {
			const plane = { at: from.alpha, width: from.width, height: from.height };
			this.#scalePlane(this.#alpha[1], width, all, plane, region, 1, mirrored);
			alphas.push({ at: this.#alpha[1], stride: width });
		}
		if (mask) alphas.push(this.#maskRows(mask));
		const alpha = this.#product(alphas, to);
		if (key?.by === 'colour') this.#keyed(out, to, layer, key, alpha, opacity);
		else this.#blend(out, to, layer, alpha, opacity);
	}

	/** Where a layer of that size is put together: planes of its own size, one after another. */
	#packed({ width, height }: Size): Planes {
		const { y } = this.#layer;
		const u = y + width * height;
		const strideC = width >> 1;
		const bytes = (width * height * 3) / 2;
		return { ...this.#layer, width, height, u, v: u + strideC * (height >> 1), strideY: width, strideC, bytes };
	}

	#maskRows({ width, height, radius, x, y }: Mask): AlphaRows {
		const whole = this.#shape(`corner ${width} ${height} ${radius}`, width * height, () =>
			cornerMask(width, height, radius),
		);
		return { at: whole + y * width + x, stride: width };
	}

	/** Several alphas as one, valid until the next call; null for none, which means all of it. */
	#product([first, ...others]: AlphaRows[], { width, height }: Size): AlphaRows | null {
		const [at] = this.#alpha;
		let product = first ?? null;
		for (const other of others) {
			this.#kernels.multiply(at, width, product!.at, product!.stride, other.at, other.stride, width, height);
			product = { at, stride: width };
		}
		return product;
	}

	/** Blends a layer into `out` without what has the key colour; `alpha` is how much of the rest there is. */
	#keyed(out: Planes, to: Rect, layer: Planes, key: ColourKey, alpha: AlphaRows | null, opacity: number): void {
		const at = partOf(out, to);
		const { u, v, tolerance, softness, slope, spill } = key;
		this.#kernels.keyed(
			...([at.y, at.u, at.v, at.strideY, at.strideC] as const),
			...([layer.y, layer.u, layer.v, layer.strideY, layer.strideC, to.width, to.height] as const),
			...([u, v, tolerance, softness, slope, spill.x, spill.y, spill.amount] as const),
			...([alpha?.at ?? 0, alpha?.stride ?? 0, opacity, this.#workFor(keyedWorkBytes(to.width))] as const),
		);
	}

	/** Blends a layer into `out`. */
	#blend(out: Planes, to: Rect, layer: Planes, alpha: AlphaRows | null, opacity: number): void {
		const { width, height } = to;
		const [widthC, heightC] = [width >> 1, height >> 1];
		const at = partOf(out, to);
		const kernels = this.#kernels;
		const { at: rows, stride } = alpha ?? { at: this.#opaque, stride: width };
		kernels.blend(at.y, at.strideY, layer.y, layer.strideY, rows, stride, width, height, opacity);
		let small = this.#opaque;
		if (alpha) {
			small = this.#alpha[2];
			kernels.halve(small, widthC, rows, stride, widthC, heightC);
		}
		kernels.blend(at.u, at.strideC, layer.u, layer.strideC, small, widthC, widthC, heightC, opacity);
		kernels.blend(at.v, at.strideC, layer.v, layer.strideC, small, widthC, widthC, heightC, opacity);
	}

	#scale(out: Planes, to: Rect, from: Planes, region: Rect, mirrored: boolean): void {
		const { strideY, strideC } = out;
		const toC = { x: to.x >> 1, y: to.y >> 1, width: (to.width + 1) >> 1, height: (to.height + 1) >> 1 };
		const [widthC, heightC] = [from.strideC, (from.height + 1) >> 1];
		const plane = (at: number, width: number, height: number) => ({ at, width, height });
		this.#scalePlane(out.y, strideY, to, plane(from.y, from.width, from.height), region, 1, mirrored);
		this.#scalePlane(out.u, strideC, toC, plane(from.u, widthC, heightC), region, 2, mirrored);
		this.#scalePlane(out.v, strideC, toC, plane(from.v, widthC, heightC), region, 2, mirrored);
	}

	/** Scales a region of a plane. `finer` is how many pixels of the region one of the plane stands for. */
	#scalePlane(
		out: number,
		stride: number,
		to: Rect,
		plane: { at: number; width: number; height: number },
		region: Rect,
		finer: 1 | 2,
		mirrored: boolean,
	): void {
		// Odd sizes have a chroma sample for half a pixel: all of a picture is all of its planes.
		const whole = (start: number, length: number, of: number) =>
			start === 0 && Math.ceil(length / finer) === of ? of * Q7 : Math.max(Q7, Math.round((length * Q7) / finer));
		const x = Math.round((region.x * Q7) / finer);
		const { at, way } = this.#columns(to.width, plane.width, x, whole(region.x, region.width, plane.width), mirrored);
		this.#kernels.scale(
			...([out + to.y * stride + to.x, stride, to.width, to.height, plane.at, plane.width, plane.height] as const),
			...([x, Math.round((region.y * Q7) / finer), whole(region.y, region.height, plane.height)] as const),
			...([at, way, this.#workFor(2 * (to.width + 32))] as const),
		);
	}

	/** Which columns of a plane make which of a scaled one: laid out once, and kept while they are used. */
	#columns(width: number, planeWidth: number, x: number, regionWidth: number, mirrored: boolean): Columns {
		const name = `${width} ${planeWidth} ${x} ${regionWidth} ${mirrored}`;
		let columns = this.#laidOut.get(name);
		if (columns) this.#laidOut.delete(name);
		else {
			const bytes = columnBytes(width);
			const at = this.memory.allocate(bytes);
			columns = { at, bytes, way: this.#kernels.layOut(at, width, planeWidth, x, regionWidth, mirrored) };
		}
		this.#laidOut.set(name, columns);
		// A layer that grows has columns of its own at each step.
		if (this.#laidOut.size > MOST_LAID_OUT) {
			const [oldest, unused] = this.#laidOut.entries().next().value!;
			this.#laidOut.delete(oldest);
			this.memory.release(unused.at, unused.bytes);
		}
		return columns;
	}

	/** A picture at half its size, made once per version. Sizes that do not halve evenly lose a row or column. */
	#half(from: Planes): Planes {
		const [width, height] = [(from.width >> 2) * 2, (from.height >> 2) * 2];
		let half = this.#halves.get(from);
		if (half?.planes.width !== width || half.planes.height !== height) {
			if (half) this.memory.releasePlanes(half.planes);
			half = { planes: this.memory.allocatePlanes(width, height, from.alpha !== null), version: -1 };
			this.#halves.set(from, half);
		}
		const { planes } = half;
		if (half.version === from.version) return planes;
		const { halve } = this.#kernels;
		halve(planes.y, planes.strideY, from.y, from.strideY, width, height);
		halve(planes.u, planes.strideC, from.u, from.strideC, width >> 1, height >> 1);
		halve(planes.v, planes.strideC, from.v, from.strideC, width >> 1, height >> 1);
		if (planes.alpha !== null && from.alpha !== null) halve(planes.alpha, width, from.alpha, from.width, width, height);
		half.version = from.version;
		planes.version++;
		return planes;
	}

	/** Gives back a picture and all that was made from it. */
	forget(planes: Planes): void {
		const half = this.#halves.get(planes);
		this.#halves.delete(planes);
		if (half) this.forget(half.planes);
		this.memory.releasePlanes(planes);
	}

	#patch(out: Planes, { area, style, cell }: PatchStep): void {
		if (area.width < 2 || area.height < 2) return;
		if (style === 'solid') return this.#fill(out, PATCH_COLOUR, area);
		const { x, y, width, height } = area;
		const plane = (at: number, stride: number, rect: Rect, length: number) => {
			const start = at + rect.y * stride + rect.x;
			this.#kernels.cellMeans(this.#means, start, stride, rect.width, rect.height, length);
			const across = Math.max(1, Math.floor(rect.width / length));
			const down = Math.max(1, Math.floor(rect.height / length));
			if (style === 'blur') {
				const grid = { at: this.#means, width: across, height: down };
				const region = { x: 0, y: 0, width: rect.width / length, height: rect.height / length };
				return this.#scalePlane(at, stride, rect, grid, region, 1, false);
			}
			const means = this.memory.bytes.slice(this.#means, this.#means + across * down);
			for (let j = 0; j < down; j++)
				for (let i = 0; i < across; i++) {
					const columns = i === across - 1 ? rect.width - i * length : length;
					const rows = j === down - 1 ? rect.height - j * length : length;
					this.#kernels.fill(start + j * length * stride + i * length, stride, columns, rows, means[j * across + i]!);
				}
		};
		const small = { x: x >> 1, y: y >> 1, width: (width + 1) >> 1, height: (height + 1) >> 1 };
		plane(out.y, out.strideY, area, cell);
		plane(out.u, out.strideC, small, cell >> 1);
		plane(out.v, out.strideC, small, cell >> 1);
	}

	#lookUp(
		out: number,
		outStride: number,
		from: number,
		fromStride: number,
		width: number,
		height: number,
		table: Uint8Array,
	): void {
		this.memory.bytes.set(table, this.#table);
		this.#kernels.lookUp(out, outStride, from, fromStride, width, height, this.#table);
	}

	/** A shape drawn before, or drawn now and kept. */
	#shape(name: string, bytes: number, draw: () => Uint8Array): number {
		const shape = this.#shapes.get(name) ?? { at: this.memory.allocate(bytes), bytes };
		if (!this.#shapes.delete(name)) this.memory.bytes.set(draw(), shape.at);
		this.#shapes.set(name, shape);
		// A layer that grows has a shape of its own at each step.
		if (this.#shapes.size > MOST_SHAPES) {
			const [oldest, unused] = this.#shapes.entries().next().value!;
			this.#shapes.delete(oldest);
			this.memory.release(unused.at, unused.bytes);
		}
		return shape.at;
	}

	/**
	 * A compositor for smaller pictures of the same sources: a tile costs what its own pixels cost.
	 * @param size even, 8 pixels wide at least
	 */
	smaller(size: Size): Compositor {
		const name = `${size.width} ${size.height}`;
		const known = this.#smaller.get(name) ?? new Compositor(this.#kernels, this.memory, size, this.#halves);
		this.#smaller.delete(name);
		this.#smaller.set(name, known);
		// While a window is resized each step is a size of its own.
		if (this.#smaller.size > MOST_SMALLER) {
			const [oldest, unused] = this.#smaller.entries().next().value!;
			this.#smaller.delete(oldest);
			unused.close();
		}
		return known;
	}

	/** Gives all memory back; the compositor is of no more use. */
	close(): void {
		const half = this.#halves.get(this.#picture);
		this.#halves.delete(this.#picture);
		if (half) this.forget(half.planes);
		for (const smaller of this.#smaller.values()) smaller.close();
		const rest = [...this.#shapes.values(), ...this.#laidOut.values(), this.#work, this.#rgba].filter(
			({ bytes }) => bytes > 0,
		);
		for (const { at, bytes } of [...this.#own, ...rest]) this.memory.release(at, bytes);
	}

	/**
	 * Fits a picture into this compositor's own size, on black.
	 * @returns planes that are valid until the next call
	 */
	fit(from: Planes, to: Rect): Planes {
		const out = this.#picture;
		const { width, height } = out;
		if (to.width < width || to.height < height) this.#fill(out, BLACK, { x: 0, y: 0, width, height });
		const all = { x: 0, y: 0, width: from.width, height: from.height };
		const plain = { step: 'blit', pictureId: '', mirrored: false, opacity: 256, mask: null, key: null } as const;
		this.#blit(out, { ...plain, from: all, to }, from);
		return out;
	}

	/** A picture as RGBA, 4 bytes a pixel in kernel memory, valid until the next call. Its width is even, 8 at least. */
	toRgba({ y, u, v, strideY, strideC, width, height }: Planes): Uint8ClampedArray<ArrayBuffer> {
		const bytes = width * height * 4;
		if (this.#rgba.bytes < bytes) {
			if (this.#rgba.bytes > 0) this.memory.release(this.#rgba.at, this.#rgba.bytes);
			this.#rgba = { at: this.memory.allocate(bytes), bytes };
		}
		this.#kernels.toRgba(this.#rgba.at, y, u, v, strideY, strideC, width, height);
		return new Uint8ClampedArray(this.memory.bytes.buffer, this.#rgba.at, bytes);
	}

	/** Turns the interleaved chroma of an NV12 picture at `chroma` into the two planes of `out`. */
	splitChroma(out: Planes, chroma: number): void {
		this.#kernels.split(out.u, out.v, chroma, out.strideC * ((out.height + 1) >> 1));
	}

	/** Turns RGBA with straight alpha into a picture, whose sides are even. Without an alpha plane it is opaque. */
	fromRgba(out: Planes, rgba: Uint8Array | Uint8ClampedArray): void {
		const pixels = out.width * out.height;
		const at = this.memory.allocate(rgba.length);
		const alpha = out.alpha ?? this.memory.allocate(pixels);
		this.memory.bytes.set(rgba, at);
		this.#kernels.fromRgba(out.y, out.u, out.v, alpha, at, out.width, out.height);
		this.memory.release(at, rgba.length);
		if (out.alpha === null) this.memory.release(alpha, pixels);
		out.version++;
	}

	/** Makes a whole picture of one colour. */
	fillPlanes(out: Planes, colour: Yuv): void {
		this.#fill(out, colour, { x: 0, y: 0, width: out.width, height: out.height });
		out.version++;
	}

	#workFor(bytes: number): number {
		if (this.#work.bytes < bytes) {
			if (this.#work.bytes > 0) this.memory.release(this.#work.at, this.#work.bytes);
			this.#work = { at: this.memory.allocate(bytes), bytes };
		}
		return this.#work.at;
	}
}

/** A part of a picture, of even sides at an even place, where it lies. */
function partOf(planes: Planes, { x, y, width, height }: Rect): Planes {
	const { strideY, strideC } = planes;
	const atC = (y >> 1) * strideC + (x >> 1);
	return { ...planes, width, height, y: planes.y + y * strideY + x, u: planes.u + atC, v: planes.v + atC };
}

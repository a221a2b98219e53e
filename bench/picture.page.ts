/** Runs in Chromium: times each kernel and some scenes on frames of noise. Bundled and called by picture.ts. */
import { keyNumbers } from '../src/core/picture/colour.ts';
import { Compositor } from '../src/core/picture/compositor.ts';
import { patchStep, sceneSteps, type DrawList, type DrawStep, type Stage } from '../src/core/picture/draw-list.ts';
import { fitted, type Size } from '../src/core/picture/geometry.ts';
import { FrameMemory, type KernelExports, type Planes } from '../src/core/picture/planes.ts';
import { WHOLE } from '../src/core/show/basics.ts';
import { plainScene, wholeLayer, type Layer } from '../src/core/show/scenes/scene.ts';

export interface Timings {
	mix: number;
	/** A picture copied to another place in memory. */
	copy: number;
	scale: number;
	fill: number;
	monitor: number;
	chromaKey: number;
	blurQuarter: number;
	pictureInPicture: number;
	lowerThird: number;
	/** The same scene on air, with 6 scenes and 4 sources defined, and with 100 and 40. */
	fewDefined: number;
	manyDefined: number;
}

const WARM_UP = 200;
const ROUNDS = 40;
const AT_A_TIME = 10;

/** Milliseconds a frame, medians. `scale` takes `from` to `size`. */
export async function timeKernels(wasm: Uint8Array<ArrayBuffer>, size: Size, from: Size): Promise<Timings> {
	const memory = new WebAssembly.Memory({ initial: 2, maximum: 4096 });
	const { instance } = await WebAssembly.instantiate(wasm, { env: { memory } });
	const compositor = new Compositor(instance.exports as unknown as KernelExports, new FrameMemory(memory), size);
	const pictures = new Map<string, Planes>();
	const graphic = { width: 2 * Math.round(size.width / 6), height: 2 * Math.round(size.height / 14) };
	for (const [id, each, alpha] of [
		['a', size, false],
		['b', size, false],
		['other', from, false],
		['graphic', graphic, true],
	] as const) {
		const planes = compositor.memory.allocatePlanes(each.width, each.height, alpha);
		for (let i = 0; i < planes.bytes; i++) compositor.memory.bytes[planes.y + i] = (i * 2654435761) >>> 24;
		if (planes.alpha !== null) compositor.memory.bytes.fill(224, planes.alpha, planes.alpha + each.width * each.height);
		pictures.set(id, planes);
	}
	const stage: Stage = {
		picture: size,
		pictureOf(id) {
			const planes = pictures.get(id);
			return planes ? { ...planes, alpha: planes.alpha !== null } : null;
		},
		framing: () => WHOLE,
		background: null,
	};
	const planesOf = (id: string) => pictures.get(id)!;
	const layer = (id: string, part: Partial<Layer> = {}): Layer => ({ ...wholeLayer(id, id), ...part });
	const steps = (...layers: Layer[]) => sceneSteps(plainScene('scene', 'Scene', layers), stage);
	const paint = (list: Partial<DrawList>) => {
		const full: DrawList = { base: { steps: [] }, above: [], black: 0, ...list };
		// A camera brings a new frame each time: nothing made from the last one may be used again.
		for (const planes of pictures.values()) planes.version++;
		return compositor.compose(full, planesOf, stage);
	};

	const corner = { x: 0.65, y: 0.05, width: 0.3, height: 0.3 };
	const key = keyNumbers({ by: 'colour', colour: '#00b140', tolerance: 0.25, softness: 0.15, spill: 0.6 });
	const keyed = steps(layer('a')).map((step): DrawStep => (step.step === 'blit' ? { ...step, key } : step));
	const onto = steps(layer('b'));
	const [inPicture] = [steps(layer('a'), layer('other', { box: corner }))];
	const name: DrawStep[] = [
		{
			step: 'blit',
			pictureId: 'graphic',
			from: { x: 0, y: 0, ...graphic },
			to: { x: 64, y: 2 * Math.round(size.height * 0.4), ...graphic },
			mirrored: false,
			opacity: 256,
			mask: null,
			key: null,
		},
	];
	const patch = patchStep({ area: { x: 0.25, y: 0.25, width: 0.5, height: 0.5 }, style: 'blur', strength: 5 }, size);
	const monitor = { width: 320, height: 180 };

	/** Lists and paints the scene on air out of a show with so many scenes and sources in it. */
	const withShow = (scenes: number, sources: number) => {
		const ids = Array.from({ length: sources }, (_, i) => (i === 0 ? 'a' : i === 1 ? 'other' : `source-${i}`));
		const all = Array.from({ length: scenes }, (_, i) =>
			plainScene(`scene-${i}`, `Scene ${i}`, [layer(ids[i % sources]!), layer('other', { box: corner })]),
		);
		return () => {
			const scene = all.find(({ id }) => id === 'scene-0')!;
			paint({ base: { steps: sceneSteps(scene, stage) } });
		};
	};
	const time = (work: () => void) => {
		// Enough first runs for the browser to have compiled its best code; several at a time, because its clock is coarse.
		for (let i = 0; i < WARM_UP; i++) work();
		const times: number[] = [];
		for (let i = 0; i < ROUNDS; i++) {
			const start = performance.now();
			for (let j = 0; j < AT_A_TIME; j++) work();
			times.push((performance.now() - start) / AT_A_TIME);
		}
		return times.sort((x, y) => x - y)[ROUNDS / 2]!;
	};
	const [a, b, other] = [steps(layer('a')), steps(layer('b')), steps(layer('other'))];
	return {
		mix: time(() => paint({ base: { from: a, to: b, joined: { way: 'mix', weight: 100 } } })),
		copy: time(() => {
			const { y, bytes } = planesOf('a');
			compositor.memory.bytes.copyWithin(planesOf('b').y, y, y + bytes);
		}),
		scale: time(() => paint({ base: { steps: other } })),
		fill: time(() => paint({ base: { steps: sceneSteps(null, stage) } })),
		monitor: time(() => compositor.toRgba(compositor.smaller(monitor).fit(planesOf('a'), fitted(size, monitor)))),
		chromaKey: time(() => paint({ base: { steps: [...onto, ...keyed] } })),
		blurQuarter: time(() => compositor.treat(planesOf('b'), null, [patch])),
		pictureInPicture: time(() => paint({ base: { steps: inPicture } })),
		lowerThird: time(() => paint({ base: { steps: inPicture }, above: name })),
		fewDefined: time(withShow(6, 4)),
		manyDefined: time(withShow(100, 40)),
	};
}

Object.assign(globalThis, { timeKernels });

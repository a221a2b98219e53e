/** The test of a machine, as the page runs it: samples of what sources show, and a worker for each picture that is tried. */
import { wrap } from 'comlink';
import type { Machine } from '../../core/machine/machine.ts';
import { encodedPixels, eventWeight, weighScenes } from '../../core/machine/weight.ts';
import type { Size } from '../../core/picture/geometry.ts';
import { isClip } from '../../core/show/clips/source.ts';
import { planDelivery } from '../../core/show/delivery/delivery.ts';
import { planTracks } from '../../core/show/delivery/tracks.ts';
import { kindOf } from '../../core/show/sources/source.ts';
import { KINDS } from '../../core/show/sources/kinds.ts';
import type { Picture, ShowState } from '../../core/show/state.ts';
import type { PicturePlan } from '../messages.ts';
import type { Sample } from '../picture/sampling.ts';
import { OPEN_KINDS } from '../sources/open-kinds.ts';
import { grainyPicture, LOOP } from './made-frames.ts';
import type { MachineJob } from './machine-run.ts';
import type { MachineWorker } from './machine.worker.ts';

/** Sizes that an event can have. */
const TRIED = [
	{ width: 1280, height: 720 },
	{ width: 1920, height: 1080 },
] as const;
/** How long each is tried, and about how long all of it takes, seconds. */
const TRY_S = 4;
const DECODE_S = 1;
export const MACHINE_TEST_S = 12;
/** The two heaviest scenes are taken in turn. */
const SCENES = 2;

export interface MachineTestParts {
	kernelUrls: string[];
	plan: PicturePlan;
	/** Copies of what sources show. */
	sample(sourceIds: readonly string[], frames: number): Promise<Sample[]>;
	/** Size of a source's picture as far as it is known. */
	sizeOf(sourceId: string): Size | null;
	signal: AbortSignal;
	now(): number;
}

/** Tests this machine with an event's own heaviest scenes. @throws when it is aborted, or nothing can be encoded */
export async function testMachine(show: ShowState, parts: MachineTestParts): Promise<Machine> {
	const { kernelUrls, sizeOf, signal, now } = parts;
	const { setup } = show;
	const sceneIds = weighScenes(setup, sizeOf)
		.slice(0, SCENES)
		.map(({ sceneId }) => sceneId);
	const shown = Object.fromEntries(setup.overlays.map(({ id }, i) => [id, { at: now(), count: i + 1 }]));
	const plan: PicturePlan = { ...parts.plan, program: sceneIds[0] ?? null, next: null, lever: 0, black: false, shown };
	const samples = await samplesOf(show, sceneIds, parts);
	const largest = { ...TRIED[1], fps: setup.picture.fps };
	const hardware = await inWorker(signal, (worker) => worker.hardware(largest));
	const makes: Machine['makes'] = [];
	for (const size of TRIED) {
		const picture: Picture = { ...size, fps: setup.picture.fps };
		const sized = { ...setup, picture };
		const job: MachineJob = {
			...{ kernelUrls, plan, sceneIds, samples, hardware, seconds: TRY_S },
			tried: {
				picture,
				renditions: planDelivery({ ...show, setup: sized }).renditions,
				tracks: planTracks(sized).filter((track) => track.kind === 'source'),
			},
		};
		const fps = await inWorker(signal, (worker) => worker.run(job));
		makes.push({ ...size, fps, encoded: encodedPixels({ ...show, setup: sized }) });
	}
	const cores = navigator.hardwareConcurrency;
	const decodes = await inWorker(signal, (worker) => worker.decodes(cores, DECODE_S));
	const memoryGb = (navigator as { deviceMemory?: number }).deviceMemory ?? null;
	return { at: now(), cores, memoryGb, hardware, weight: eventWeight(show, sizeOf), makes, decodes };
}

/** What all sources show that the engine does not draw itself; something grainy for those that show nothing. */
async function samplesOf(
	{ setup }: ShowState,
	sceneIds: readonly string[],
	{ sample, sizeOf }: MachineTestParts,
): Promise<MachineJob['samples']> {
	const { scenes, background, overlays, delivery } = setup;
	const used = scenes.filter(({ id }) => sceneIds.includes(id));
	const wanted = new Set([
		...used.flatMap(({ layers }) => layers.map(({ sourceId }) => sourceId)),
		...used.flatMap((scene) => (scene.background.is === 'own' ? [scene.background.sourceId] : [])),
		...overlays.flatMap((overlay) => (overlay.kind === 'picture' ? [overlay.sourceId] : [])),
		...(background === null ? [] : [background]),
		...delivery.apart.sourceIds,
	]);
	// The engine draws all others itself.
	const outside = setup.sources.filter(
		({ id, kind }) => wanted.has(id) && KINDS[kind].brings.picture && kind in OPEN_KINDS,
	);
	const taken = await sample(
		outside.map(({ id }) => id),
		LOOP,
	);
	return outside.map((source): MachineJob['samples'][number] => {
		const found = taken.find(({ sourceId }) => sourceId === source.id);
		const { width, height } = found ?? sizeOf(source.id) ?? setup.picture;
		const frames = found?.frames ?? [grainyPicture({ width, height })];
		return { sourceId: source.id, width, height, frames, moves: kindOf(source).isLive || isClip(source) };
	});
}

async function inWorker<T>(signal: AbortSignal, work: (worker: MachineWorker) => Promise<T>): Promise<T> {
	signal.throwIfAborted();
	const worker = new Worker(new URL('./machine.worker.ts', import.meta.url), { type: 'module', name: 'machine' });
	try {
		return await new Promise<T>((resolve, reject) => {
			signal.addEventListener('abort', () => reject(signal.reason as Error), { once: true });
			worker.onerror = ({ message }) => reject(new Error(message));
			work(wrap<MachineWorker>(worker) as unknown as MachineWorker).then(resolve, reject);
		});
	} finally {
		worker.terminate();
	}
}

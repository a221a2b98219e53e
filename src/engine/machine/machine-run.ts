/**
 * Makes and encodes an event's heaviest scenes as fast as it goes, with the picture engine that makes the program, on a
 * clock of its own. How many frames a second that are is what a machine has in it.
 */
import type { Rendition } from '../../core/delivery/rates.ts';
import type { SourceTrack } from '../../core/show/delivery/tracks.ts';
import type { Picture } from '../../core/show/state.ts';
import type { PicturePlan } from '../messages.ts';
import type { Hardware } from '../picture/encode.ts';
import { nextTurn } from '../picture/pace.ts';
import { PictureEngine, type PictureEngineParts } from '../picture/picture-engine.ts';
import { Renditions } from '../picture/renditions.ts';
import type { Sample } from '../picture/sampling.ts';
import { frameOf } from '../picture/worker-parts.ts';
import { LOOP, movingFrames } from './made-frames.ts';

/** What is tried: a picture, and all that would be encoded of it. */
export interface Try {
	picture: Picture;
	renditions: readonly Rendition[];
	tracks: readonly SourceTrack[];
}

export interface MachineJob {
	kernelUrls: string[];
	/** With all overlays shown, and the heaviest scene as the program. */
	plan: PicturePlan;
	/** Scenes that are taken in turn. */
	sceneIds: readonly string[];
	/** Of all sources whose pictures come from outside, and whether these move. */
	samples: readonly (Sample & { moves: boolean })[];
	tried: Try;
	hardware: Hardware;
	seconds: number;
}

/** Frames before the clock runs: drawings are made and encoders begun. */
const WARM_UP_FRAMES = 20;
/** A scene is on for so long, milliseconds of the engine's clock. */
const TAKE_EVERY_MS = 5000;
/** Frames within an encoder, so that it never waits for the next one. */
const AHEAD = 2;

type Parts = Omit<PictureEngineParts, 'now' | 'onReport' | 'onFell' | 'onRefresh'>;

/** @returns frames a second that went through */
export async function runFlatOut(job: MachineJob, parts: Parts): Promise<number> {
	const { plan, sceneIds, samples, tried, hardware, seconds } = job;
	const { fps } = tried.picture;
	let frame = 0;
	const clock = () => (frame * 1000) / fps;
	const engine = new PictureEngine(
		{ ...parts, now: clock, onReport: () => {}, onFell: () => {}, onRefresh: () => {} },
		0,
	);
	const { port1, port2 } = new MessageChannel();
	const failed = Promise.withResolvers<never>();
	const tracks = tried.tracks.map((track, index) => ({ track, index }));
	const renditions = new Renditions({ renditions: tried.renditions, tracks, fps, hardware }, port1, ({ about }) =>
		failed.reject(new Error('problem' in about ? about.problem : 'encoder')),
	);
	// What comes out is nobody's: it is taken, so that nothing piles up.
	port2.onmessage = () => {};
	const pictures = samples.map((sample) => ({
		input: engine.addLive(sample.sourceId),
		frames: (sample.moves ? movingFrames(sample) : sample.frames.slice(0, 1)).map((bytes) =>
			frameOf(bytes, sample, { timestamp: 0, duration: 0 }),
		),
	}));
	const step = async () => {
		const timestamp = Math.round((frame * 1e6) / fps);
		for (const { input, frames } of pictures) {
			const way = frame % (2 * LOOP - 2);
			const shown = Math.min(frames.length - 1, way < LOOP ? way : 2 * LOOP - 2 - way);
			engine.put(input, new VideoFrame(frames[shown]!, { timestamp }));
		}
		const scene = Math.floor(clock() / TAKE_EVERY_MS);
		const program = sceneIds[scene % sceneIds.length]!;
		const from = scene === 0 ? null : sceneIds[(scene - 1) % sceneIds.length]!;
		engine.follow({ ...plan, program, take: { ...plan.take, from, count: scene, transition: plan.transition } });
		frame++;
		await engine.advance(frame);
		await Promise.all([...renditions.encoders, ...renditions.tracks].map((encoder) => encoder.follows(AHEAD)));
		await nextTurn();
	};
	const run = async () => {
		// No loops of the holding card: they are made once, at the beginning of an evening.
		engine.startEncoding({ ...outputOf(renditions), hold: () => {} });
		while (frame < WARM_UP_FRAMES) await step();
		const [startedAt, from] = [performance.now(), frame];
		while (performance.now() - startedAt < seconds * 1000) await step();
		await engine.stopEncoding();
		return ((frame - from) * 1000) / (performance.now() - startedAt);
	};
	try {
		return await Promise.race([run(), failed.promise]);
	} finally {
		for (const { input, frames } of pictures) for (const each of [...frames, input]) void each.close();
		port1.close();
	}
}

function outputOf(renditions: Renditions) {
	return {
		encoders: renditions.encoders,
		tracks: renditions.tracks,
		get encoded() {
			return renditions.encoded;
		},
		end: () => renditions.end(),
	};
}

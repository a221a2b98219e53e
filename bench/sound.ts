import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { plainChannel, withPreset, type Strip } from '../src/core/show/mix/mix.ts';
import { withSetup } from '../src/core/show/slice.ts';
import { emptyShow } from '../src/core/show/state.ts';
import { mixPlan } from '../src/core/sound/mix-plan.ts';
import { BLOCK, Mixer } from '../src/core/sound/mixer.ts';
import { soundMemory } from '../tests/support/sound.ts';
import { row, type Row } from './table.ts';

const run = promisify(execFile);
const CHANNELS = 32;
const RATE = 48_000;
const SECONDS = 20;
/** Length of the material, which comes again. */
const LOOP_S = 5;
const QUANTUM_MS = (1000 * BLOCK) / RATE;

/** The stream mix at its largest, on one thread, against an FFmpeg chain that does the same to one channel. */
export async function benchSound(): Promise<Row[]> {
	const channels = Array.from({ length: CHANNELS }, (_, i) => {
		const channel = withPreset(plainChannel(`${i}`, 'console', `${i}`, [i]), 'speaking voice');
		const eq = channel.strip.eq.map((band) => ({ ...band, gainDb: 3 })) as Strip['eq'];
		return { ...channel, ducked: i % 2 === 0, strip: { ...channel.strip, eq, delayMs: 20 } };
	});
	const show = withSetup(emptyShow('bench', 'Bench', '', { width: 1280, height: 720, fps: 30 }), { channels });
	const mixer = new Mixer(soundMemory(), CHANNELS);
	mixer.set(mixPlan(show, Number, CHANNELS, false));
	mixer.leaveOut([[0], [1], [2], [3], [4], [5], [6], [7]]);
	const sounds = channels.map((_, i) => talk(i));
	const inputs: Float32Array[][] = sounds.map(() => []);
	// Cut up beforehand: what is measured is the mixer.
	const blocks = sounds.map((sound) =>
		Array.from({ length: (LOOP_S * RATE) / BLOCK }, (_, i) => sound.subarray(i * BLOCK, (i + 1) * BLOCK)),
	);
	const times = new Float64Array(Math.floor((SECONDS * RATE) / BLOCK));
	let spentMs = 0;
	// The first turn is the one in which it is compiled.
	for (let turn = 0; turn < 2; turn++) {
		const before = process.cpuUsage();
		for (let block = 0; block < times.length; block++) {
			for (let i = 0; i < CHANNELS; i++) inputs[i]![0] = blocks[i]![block % blocks[i]!.length]!;
			const startedAt = performance.now();
			mixer.run(inputs);
			times[block] = performance.now() - startedAt;
		}
		const { user, system } = process.cpuUsage(before);
		spentMs = (user + system) / 1000;
	}
	const sorted = times.toSorted();
	// Processor time, as FFmpeg tells its own: what others took meanwhile is not in it.
	const mean = spentMs / times.length;
	const perChannel = mean / CHANNELS;
	const theirs = await byFfmpeg();
	return [
		row('32 strips, groups, 8 mix-minus, master, loudness: part of one core', (100 * mean) / QUANTUM_MS, '%', {
			limit: { most: 25 },
		}),
		row(
			'one of 1000 blocks takes longer, of its quantum',
			(100 * sorted[Math.floor(sorted.length * 0.999)]!) / QUANTUM_MS,
			'%',
			{
				limit: { most: 50 },
			},
		),
		row('a strip, of a block of 128 samples', perChannel * 1000, 'µs', { yardstick: theirs * 1000 }),
	];
}

/** Speech-like: noise in syllables and phrases, each channel with its own. */
function talk(seed: number): Float32Array {
	let state = seed * 7919 + 1;
	return Float32Array.from({ length: LOOP_S * RATE }, (_, i) => {
		state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
		const speaks = (i / RATE + seed) % 5 < 2 ? 1 : 0.002;
		return (state / 2 ** 31 - 1) * 0.2 * speaks * Math.sin((Math.PI * i) / 9600) ** 2;
	});
}

/** Milliseconds that FFmpeg takes for a block of one channel: high-pass, gate, four bands, compressor. */
async function byFfmpeg(): Promise<number> {
	const bands = [120, 400, 2500, 8000].map((hz) => `equalizer=f=${hz}:t=q:w=1:g=3`).join(',');
	const chain = `highpass=f=100,agate=threshold=0.004,${bands},acompressor=threshold=0.08:ratio=3`;
	const seconds = 300;
	const args = (filter: string) =>
		`-hide_banner -benchmark -threads 1 -filter_threads 1 -f lavfi -i anoisesrc=r=48000:a=0.2:d=${seconds} -af ${filter} -f null -`;
	const spent = async (filter: string) => {
		const { stderr } = await run('ffmpeg', args(filter).split(' '), { maxBuffer: 16e6 });
		return Number(/utime=([\d.]+)s/.exec(stderr)![1]) * 1000;
	};
	// The least of three: what an idle machine takes to wake up is not FFmpeg's.
	const least = async (filter: string) => Math.min(await spent(filter), await spent(filter), await spent(filter));
	return ((await least(chain)) - (await least('anull'))) / ((seconds * RATE) / BLOCK);
}

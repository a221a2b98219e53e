/** Prints how many bytes the mixer takes for a block once it runs. Needs --expose-gc. */
import process from 'node:process';
import { plainChannel, withPreset } from '../../src/core/show/mix.ts';
import { emptyShow } from '../../src/core/show/state.ts';
import { mixPlan } from '../../src/core/sound/mix-plan.ts';
import { BLOCK, Mixer } from '../../src/core/sound/mixer.ts';

const CHANNELS = 8;
const BLOCKS = 4000;
const channels = Array.from({ length: CHANNELS }, (_, i) =>
	withPreset(plainChannel(`${i}`, 'console', `${i}`), 'speaking voice'),
);
const show = { ...emptyShow('event', 'Event', '', { width: 1280, height: 720, fps: 30 }), channels };
const mixer = new Mixer(CHANNELS);
mixer.set(mixPlan(show, Number, CHANNELS, false));
const block = Float32Array.from({ length: BLOCK }, (_, i) => 0.9 * Math.sin(i / 8));
const inputs = channels.map(() => [block, block.slice()]);
const collect = (globalThis as unknown as { gc: () => void }).gc;

function bytesPerBlock(): number {
	collect();
	const before = process.memoryUsage().heapUsed;
	for (let i = 0; i < BLOCKS; i++) mixer.run(inputs);
	return (process.memoryUsage().heapUsed - before) / BLOCKS;
}
// What is run first is compiled meanwhile, which takes memory too.
const rounds = Array.from({ length: 4 }, bytesPerBlock);
console.log(Math.round(Math.min(...rounds)));

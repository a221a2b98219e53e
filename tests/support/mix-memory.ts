/**
 * Prints how many bytes the mixer takes for a block once it runs, with two channels and with sixteen. Needs --expose-gc,
 * and room for 50 MB of what is new: what is collected meanwhile would not be counted.
 */
import process from 'node:process';
import { plainChannel, withPreset } from '../../src/core/show/mix/mix.ts';
import { withSetup } from '../../src/core/show/slice.ts';
import { emptyShow } from '../../src/core/show/state.ts';
import { mixPlan } from '../../src/core/sound/mix-plan.ts';
import { BLOCK, Mixer } from '../../src/core/sound/mixer.ts';
import { soundMemory } from './sound.ts';

const BLOCKS = 1500;
const block = Float32Array.from({ length: BLOCK }, (_, i) => 0.9 * Math.sin(i / 8));
const collect = (globalThis as unknown as { gc: () => void }).gc;

function bytesPerBlock(count: number): number {
	const channels = Array.from({ length: count }, (_, i) => {
		const channel = withPreset(plainChannel(`${i}`, 'console', `${i}`), 'speaking voice');
		return { ...channel, ducked: i % 2 === 0 };
	});
	const show = withSetup(emptyShow('event', 'Event', '', { width: 1280, height: 720, fps: 30 }), { channels });
	const mixer = new Mixer(soundMemory(), count);
	mixer.set(mixPlan(show, Number, count, false));
	// One sound alone and two sides take different ways.
	const inputs = channels.map((_, i) => (i % 2 === 0 ? [block] : [block, block.slice()]));
	// What is run first is compiled meanwhile, which takes memory too.
	const rounds = Array.from({ length: 4 }, () => {
		collect();
		const before = process.memoryUsage().heapUsed;
		for (let i = 0; i < BLOCKS; i++) mixer.run(inputs);
		return (process.memoryUsage().heapUsed - before) / BLOCKS;
	});
	return Math.round(Math.min(...rounds));
}

console.log(JSON.stringify([2, 16].map(bytesPerBlock)));

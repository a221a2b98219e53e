import { expect, it } from 'vitest';
import { plainStrip } from '../../core/show/mix/mix.ts';
import { delayAdvice } from './index.ts';

const lectern = (delayMs = 0) => ({ name: 'Lectern', strip: { ...plainStrip(), delayMs } });

it('a sound that comes too early waits, with what is set at the other counted in', () => {
	const found = { delayMs: 83.4, certainty: 6.2 };
	expect(delayAdvice(found, lectern(), 'Camera', 0)).toEqual({
		says: 'Lectern comes 83 ms before Camera (6.2 times as clear as the next best).',
		delayMs: 83,
	});
	expect(delayAdvice(found, lectern(), 'Camera', 20).delayMs).toBe(103);
});

it('what is set well is left alone: a few milliseconds of sound, a picture’s length by clap', () => {
	expect(delayAdvice({ delayMs: 83, certainty: 3 }, lectern(80), 'Camera', 0)).toMatchObject({
		says: expect.stringContaining('nobody will notice'),
		delayMs: null,
	});
	expect(delayAdvice({ delayMs: 30, claps: 3, spreadMs: 33 }, lectern(), 'Camera', 0).delayMs).toBeNull();
	expect(delayAdvice({ delayMs: 30, certainty: 3 }, lectern(), 'Camera', 0).delayMs).toBe(30);
});

it('a sound that comes too late is told so; only less delay can help', () => {
	expect(delayAdvice({ delayMs: -120, claps: 3, spreadMs: 10 }, lectern(100), 'Camera', 0)).toMatchObject({
		delayMs: 0,
	});
	const late = delayAdvice({ delayMs: -120, certainty: 4 }, lectern(), 'Camera', 0);
	expect(late).toEqual({ says: expect.stringContaining('Delay Camera by 120 ms instead'), delayMs: null });
});

it('a refusal is passed on in its words, and nothing absurd is offered', () => {
	expect(delayAdvice({ refused: 'noClapHeard' }, lectern(), 'Camera', 0)).toEqual({
		says: 'No clap was heard. Clap nearer to the microphone.',
		delayMs: null,
	});
	expect(delayAdvice({ delayMs: 500, certainty: 4 }, lectern(), 'Camera', 600).delayMs).toBeNull();
});

import { expect, it } from 'vitest';
import { rangeOf } from './range.ts';

it('ranges are read as the standard says; what is not understood is answered with the whole', () => {
	expect(rangeOf('bytes=0-99', 1000)).toEqual({ from: 0, to: 99 });
	expect(rangeOf('bytes=500-', 1000)).toEqual({ from: 500, to: 999 });
	expect(rangeOf('bytes=-100', 1000)).toEqual({ from: 900, to: 999 });
	expect(rangeOf('bytes=-5000', 1000)).toEqual({ from: 0, to: 999 });
	expect(rangeOf('bytes=900-5000', 1000)).toEqual({ from: 900, to: 999 });
	for (const whole of [null, '', 'bytes=-', 'bytes=0-1,5-9', 'lines=1-2', 'bytes=a-b'])
		expect(rangeOf(whole, 1000)).toBeNull();
	for (const beyond of ['bytes=1000-', 'bytes=5-4', 'bytes=-0']) expect(rangeOf(beyond, 1000)).toBe('impossible');
	expect(rangeOf('bytes=-5', 0)).toBe('impossible');
});

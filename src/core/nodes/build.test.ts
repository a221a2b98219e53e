import { expect, it } from 'vitest';
import { buildText, readBuild } from './build.ts';

it.each([
	['0.1.0+1796050288805', { version: '0.1.0', builtAt: 1796050288805 }],
	['0.1.0', { version: '0.1.0', builtAt: null }],
])('reads %s as it was written', (text, build) => {
	expect(readBuild(text)).toEqual(build);
	expect(buildText(build)).toBe(text);
});

it('reads what other versions may say', () => {
	expect(readBuild('0.2.0+of.another')).toEqual({ version: '0.2.0', builtAt: null });
	expect(readBuild('')).toEqual({ version: '', builtAt: null });
});

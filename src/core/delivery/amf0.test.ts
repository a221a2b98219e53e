import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeAmf0, encodeAmf0, encodeEcmaArray, type AmfValue } from './amf0.ts';
import { concat, ProtocolError } from './bytes.ts';

const { value } = fc.letrec<{ value: AmfValue }>((tie) => ({
	value: fc.oneof(
		{ maxDepth: 4 },
		fc.double(),
		fc.boolean(),
		fc.string({ unit: 'grapheme' }),
		fc.constant(null),
		fc.constant(undefined),
		fc.date({ noInvalidDate: true }),
		fc.array(tie('value'), { maxLength: 5 }),
		fc.dictionary(fc.string({ minLength: 1 }), tie('value'), { maxKeys: 5, noNullPrototype: true }),
	),
}));

describe('AMF0', () => {
	it('comes back as it went in', () => {
		fc.assert(
			fc.property(
				fc.array(value, { maxLength: 4 }),
				(values) => void expect(decodeAmf0(encodeAmf0(...values))).toEqual(values),
			),
		);
	});

	it('has the bytes of the specification', () => {
		const connect = encodeAmf0('connect', 1, { app: 'live' }, null, true);
		expect(Buffer.from(connect).toString('hex')).toBe(
			'020007636f6e6e656374' + '003ff0000000000000' + '03' + '0003617070' + '0200046c697665' + '000009' + '05' + '0101',
		);
	});

	it('writes texts beyond 65 535 bytes as long strings', () => {
		const text = 'ä'.repeat(40_000);
		const bytes = encodeAmf0(text);
		expect(bytes[0]).toBe(12);
		expect(decodeAmf0(bytes)).toEqual([text]);
	});

	it('reads ECMA arrays as objects', () => {
		expect(decodeAmf0(encodeEcmaArray({ width: 1280, stereo: true }))).toEqual([{ width: 1280, stereo: true }]);
	});

	it('refuses every truncation with a reason instead of reading on', () => {
		const whole = encodeAmf0({ a: 'text', b: [1, 2], c: new Date(0) });
		for (let length = 1; length < whole.length; length++)
			expect(() => decodeAmf0(whole.subarray(0, length)), `${length} bytes`).toThrow(ProtocolError);
	});

	it('never fails otherwise than with a reason, whatever it is fed', () => {
		fc.assert(
			fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => {
				try {
					decodeAmf0(bytes);
				} catch (error) {
					expect(error).toBeInstanceOf(ProtocolError);
				}
			}),
			{ numRuns: 2000 },
		);
	});

	it('refuses hostile depth, length and markers', () => {
		const deep = concat(Array.from({ length: 40 }, () => Uint8Array.of(10, 0, 0, 0, 1)));
		expect(() => decodeAmf0(deep)).toThrow('nests deeper');
		expect(() => decodeAmf0(Uint8Array.of(10, 0xff, 0xff, 0xff, 0xff))).toThrow('4294967295 items');
		expect(() => decodeAmf0(Uint8Array.of(7, 0, 1))).toThrow('marker 7');
	});

	it('keeps a property called __proto__ away from the prototype', () => {
		const bytes = encodeAmf0(JSON.parse('{"__proto__": {"polluted": true}}'));
		const [object] = decodeAmf0(bytes);
		expect((object as { polluted?: boolean }).polluted).toBeUndefined();
		expect(Object.keys(object as object)).toEqual(['__proto__']);
	});
});

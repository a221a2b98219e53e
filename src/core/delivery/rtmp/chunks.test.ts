import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { concat, ProtocolError } from '../bytes.ts';
import { ChunkReader, ChunkWriter, MAX_MESSAGE_BYTES } from './chunks.ts';
import { controlMessage, MessageType, type RtmpMessage } from './messages.ts';

const message = (length: number, timestampMs: number, type = 9): RtmpMessage => ({
	type,
	streamId: 1,
	timestampMs,
	body: Uint8Array.from({ length }, (_, i) => i * 7),
});

function readAll(bytes: Uint8Array, step = bytes.length): RtmpMessage[] {
	const reader = new ChunkReader();
	const messages: RtmpMessage[] = [];
	for (let at = 0; at < bytes.length; at += step)
		reader.read(bytes.subarray(at, at + step), (each) => messages.push({ ...each, body: each.body.slice() }));
	return messages;
}

describe('the chunk layer', () => {
	it('gives back messages of any size, time and chunk size, cut anywhere', () => {
		fc.assert(
			fc.property(
				fc.array(fc.tuple(fc.nat(700), fc.nat(0xffffffff), fc.integer({ min: 2, max: 63 })), {
					minLength: 1,
					maxLength: 6,
				}),
				fc.integer({ min: 1, max: 400 }),
				fc.integer({ min: 1, max: 50 }),
				(list, chunkSize, step) => {
					const writer = new ChunkWriter();
					const parts = [writer.write(2, controlMessage(MessageType.setChunkSize, chunkSize))];
					writer.chunkSize = chunkSize;
					const sent = list.map(([length, time]) => message(length, time));
					sent.forEach((each, i) => parts.push(writer.write(list[i]![2], each)));
					expect(readAll(concat(parts), step).slice(1)).toEqual(sent);
				},
			),
		);
	});

	it('survives a cut at every single byte', () => {
		const writer = new ChunkWriter();
		const sent = [message(300, 0x1000000), message(0, 5), message(128, 7)];
		const bytes = concat(sent.map((each) => writer.write(6, each)));
		for (let cut = 0; cut <= bytes.length; cut++) {
			const reader = new ChunkReader();
			const got: RtmpMessage[] = [];
			for (const part of [bytes.subarray(0, cut), bytes.subarray(cut)]) reader.read(part, (each) => got.push(each));
			expect(got).toEqual(sent);
		}
	});

	it('puts interleaved chunk streams back together', () => {
		const writer = new ChunkWriter();
		const [a, b] = [writer.write(4, message(200, 10)), writer.write(6, message(200, 20))];
		const first = 12 + 128;
		const woven = concat([a.subarray(0, first), b.subarray(0, first), a.subarray(first), b.subarray(first)]);
		expect(readAll(woven)).toEqual([message(200, 10), message(200, 20)]);
	});

	it('adds up the deltas of shorter headers', () => {
		const header0 = Uint8Array.of(6, 0, 0, 100, 0, 0, 1, 9, 1, 0, 0, 0, 0xaa);
		const header1 = Uint8Array.of(0x46, 0, 0, 40, 0, 0, 2, 9, 0xbb, 0xbb);
		const header2 = Uint8Array.of(0x86, 0, 0, 30, 0xcc, 0xcc);
		const header3 = Uint8Array.of(0xc6, 0xdd, 0xdd);
		const got = readAll(concat([header0, header1, header2, header3]));
		expect(got.map(({ timestampMs }) => timestampMs)).toEqual([100, 140, 170, 200]);
		expect(got.map(({ body }) => body.length)).toEqual([1, 2, 2, 2]);
	});

	it('reads chunk stream ids of two and three bytes', () => {
		const rest = [0, 0, 1, 0, 0, 1, 8, 1, 0, 0, 0, 0x55];
		expect(readAll(Uint8Array.of(0, 10, ...rest))).toHaveLength(1);
		expect(readAll(Uint8Array.of(1, 10, 3, ...rest))).toHaveLength(1);
	});

	it('drops a message that is aborted', () => {
		const writer = new ChunkWriter();
		const begun = writer.write(6, message(200, 0)).subarray(0, 140);
		const abort = writer.write(2, controlMessage(MessageType.abort, 6));
		const got = readAll(concat([begun, abort, writer.write(6, message(3, 1))]));
		expect(got.map(({ type }) => type)).toEqual([MessageType.abort, 9]);
	});

	it('refuses hostile lengths, sizes and headers', () => {
		const tooLong = Uint8Array.of(6, 0, 0, 0, 0xff, 0xff, 0xff, 9, 1, 0, 0, 0);
		expect(MAX_MESSAGE_BYTES).toBeLessThan(0xffffff);
		expect(() => readAll(tooLong)).toThrow('16777215 bytes');
		const writer = new ChunkWriter();
		expect(() => readAll(writer.write(2, controlMessage(MessageType.setChunkSize, 0)))).toThrow('chunk size of 0');
		expect(() => readAll(Uint8Array.of(0xc6, 1, 2))).toThrow('header of type 3');
		const streams = concat(Array.from({ length: 70 }, (_, i) => Uint8Array.of(0, i, 0, 0, 0, 0, 0, 0, 8, 0, 0, 0, 0)));
		expect(() => readAll(streams)).toThrow('more than 64 chunk streams');
	});

	it('never fails otherwise than with a reason, whatever it is fed', () => {
		fc.assert(
			fc.property(fc.uint8Array({ maxLength: 400 }), (bytes) => {
				try {
					readAll(bytes, 13);
				} catch (error) {
					expect(error).toBeInstanceOf(ProtocolError);
				}
			}),
			{ numRuns: 2000 },
		);
	});
});

import { expect, it } from 'vitest';
import { ownFileName, ownKindOf, readOwnFileName } from './own-recording.ts';

it('is told by the name of its file', () => {
	const own = { broadcastId: 'broadcast-1_a', startedAt: 1_795_000_000_123, kind: 'mp4' } as const;
	expect(readOwnFileName(ownFileName(own))).toEqual(own);
	expect(readOwnFileName('1795000000123~b.webm')).toEqual({
		broadcastId: 'b',
		startedAt: 1_795_000_000_123,
		kind: 'webm',
	});
});

it('is nothing else that lies there', () => {
	for (const name of [
		'',
		'notes.txt',
		'12~.mp4',
		'~b.mp4',
		'12~b',
		'12~b.mov',
		'12~../b.mp4',
		'12~b c.mp4',
		'x12~b.mp4',
	])
		expect(readOwnFileName(name), name).toBeNull();
});

it('is of a kind that can be put in its place', () => {
	expect(ownKindOf('video/mp4;codecs=avc1.64001f,opus')).toBe('mp4');
	expect(ownKindOf('Video/WebM; codecs="vp8, opus"')).toBe('webm');
	for (const type of ['', 'video/x-matroska', 'audio/ogg']) expect(ownKindOf(type)).toBeNull();
});

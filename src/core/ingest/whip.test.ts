import { describe, expect, it } from 'vitest';
import { bearerOf, MOST_OFFER_BYTES, readOffer } from './whip.ts';

const media = (type: string, direction = 'sendonly') =>
	[`m=${type} 9 UDP/TLS/RTP/SAVPF 96`, 'c=IN IP4 0.0.0.0', `a=${direction}`, 'a=rtpmap:96 H264/90000', ''].join('\r\n');
const session = ['v=0', 'o=- 1 2 IN IP4 127.0.0.1', 's=-', 't=0 0', ''].join('\r\n');

describe('an offer of a camera', () => {
	it('has a picture, a sound or both', () => {
		expect(readOffer(session + media('video') + media('audio'))).toMatchObject({ hasPicture: true, hasSound: true });
		expect(readOffer(session + media('video', 'sendrecv'))).toMatchObject({ hasPicture: true, hasSound: false });
	});

	it.each([
		['nothing that is sent', session + media('video', 'recvonly'), 422],
		['two pictures', session + media('video') + media('video'), 422],
		['data', session + media('application'), 422],
		['no description', 'hello', 400],
		['nothing', '', 400],
		['far too much', session + 'a=x\r\n'.repeat(MOST_OFFER_BYTES), 413],
	])('with %s is refused', (_, sdp, status) => {
		expect(readOffer(sdp)).toMatchObject({ status });
	});

	it('brings its key in its header', () => {
		expect(bearerOf('Bearer abcd-efgh')).toBe('abcd-efgh');
		expect(bearerOf('bearer  abcd')).toBe('abcd');
		for (const header of [undefined, '', 'Basic abcd', 'Bearer', `Bearer ${'a'.repeat(300)}`, 'Bearer a b'])
			expect(bearerOf(header)).toBeNull();
	});
});

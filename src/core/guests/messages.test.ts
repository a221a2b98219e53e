import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, it } from 'vitest';
import { fromGuestSchema, MOST_SAID, readGuestMessage } from './messages.ts';

const read = (message: unknown) => readGuestMessage(JSON.stringify(message));
const candidate = {
	is: 'candidate',
	candidate: 'candidate:1 1 udp 1 127.0.0.1 9 typ host',
	sdpMid: '0',
	sdpMLineIndex: 0,
};
const signal = (part: object) => ({ type: 'signal', desk: 'desk', connection: 'c1', signal: part });

describe('what a guest’s page says', () => {
	it('is read when it is what it should be', () => {
		expect(read({ type: 'knock', name: 'Ysolde Brann' })).toEqual({ type: 'knock', name: 'Ysolde Brann' });
		expect(read(signal({ is: 'description', type: 'offer', sdp: 'v=0' }))).toMatchObject({ signal: { sdp: 'v=0' } });
		expect(read(signal(candidate))).toMatchObject({ signal: { usernameFragment: null } });
		expect(read({ type: 'say', text: '  Can you hear me? ' })).toEqual({ type: 'say', text: 'Can you hear me?' });
	});

	it('is nothing when it is too long, not of the kind, or not JSON', () => {
		expect(readGuestMessage('{')).toBeNull();
		expect(read({ type: 'knock', name: '' })).toBeNull();
		expect(read({ type: 'say', text: '   ' })).toBeNull();
		expect(read({ type: 'say', text: 'a'.repeat(MOST_SAID + 1) })).toBeNull();
		expect(read(signal({ is: 'description', type: 'offer', sdp: 'a'.repeat(60_001) }))).toBeNull();
		expect(read(signal({ ...candidate, sdpMLineIndex: -1 }))).toBeNull();
		expect(read({ type: 'placeGuest', guestId: 'pello', seatId: null })).toBeNull();
		expect(readGuestMessage(`"${'a'.repeat(90_000)}"`)).toBeNull();
	});

	it('whatever it is, is one of the messages there are or nothing', () => {
		const anything = fc.oneof(
			fc.string(),
			fc.json(),
			fc.anything().map((each) => JSON.stringify(each) ?? ''),
		);
		const nearly = fc
			.record(
				{
					type: fc.constantFrom('knock', 'signal', 'about', 'line', 'say', 'leave'),
					name: fc.anything(),
					signal: fc.anything(),
					line: fc.anything(),
					text: fc.anything(),
				},
				{ requiredKeys: ['type'] },
			)
			.map((each) => JSON.stringify(each) ?? '');
		fc.assert(
			fc.property(fc.oneof(anything, nearly), (text) => {
				const message = readGuestMessage(text);
				expect(message === null || v.is(fromGuestSchema, message)).toBe(true);
			}),
		);
	});
});

import { describe, expect, it } from 'vitest';
import { Refusal, refuse, type RefusalMessage } from '../../core/refusal.ts';
import { sourceFault } from '../../engine/sources/fault.ts';
import { engineFailure } from '../../engine/trouble.ts';
import { apartWords, channelFaultWords, echoWords, loudnessWords } from './en/sound.ts';
import { faultShort, faultWords, logLine, refusalWords, sendFaultWords, wordsFor } from './index.ts';
import { problemWords } from './problem.ts';

const words = (reason: RefusalMessage) => refusalWords(reason);

describe('a refusal', () => {
	it.each<[RefusalMessage, string]>([
		[{ code: 'gone', about: { what: 'scene' } }, 'This scene is no longer there.'],
		[{ code: 'gone', about: { what: 'channel' } }, 'This channel is no longer there.'],
		[{ code: 'exists', about: { what: 'channel' } }, 'This channel is there already.'],
		[{ code: 'tooMany', about: { what: 'channel', most: 32 } }, '32 channels are the most. Remove one first.'],
		[{ code: 'tooMany', about: { what: 'person', most: 200 } }, '200 people are the most. Remove one first.'],
		[{ code: 'sourceMissing', about: { what: 'scene' } }, 'A source of this scene is no longer there.'],
		[{ code: 'locked', about: { name: 'Talk', to: 'delete' } }, 'Talk is locked. Unlock it to delete it.'],
		[{ code: 'onAir', about: { name: 'Talk' } }, 'Talk is on air. Take another scene first.'],
		[{ code: 'nextEmpty', about: {} }, 'Nothing is in Next. Put a scene there first.'],
		[{ code: 'previousEmpty', about: {} }, 'Nothing was on air before.'],
		[{ code: 'calledBackGone', about: {} }, 'What was on air before is no longer there.'],
		[{ code: 'leverHalfWay', about: {} }, 'The hand lever is half way. Bring it to either end first.'],
		[{ code: 'markerOffAir', about: {} }, 'A marker belongs to a recording. Go on air first.'],
		[{ code: 'pictureFixed', about: {} }, 'The picture size cannot change while on air. End the broadcast first.'],
		[
			{ code: 'tooLarge', about: { bytes: 300_000, most: 262_144 } },
			'This change is too large to be sent (293 kB; 256 kB is the most). Make it in smaller steps.',
		],
		[{ code: 'invalid', about: { problem: 'nameEmpty' } }, 'This change cannot be made: A name cannot be empty.'],
	])('of %j is said in words', (reason, sentence) => {
		expect(words(reason)).toBe(sentence);
	});
});

describe('a fault of a source', () => {
	it('names the source, or the device as its maker does, and says what to do', () => {
		expect(faultWords({ code: 'black', about: {} }, 'Lectern')).toBe(
			'Lectern is black. Is its lens covered, or its light off?',
		);
		expect(faultWords({ code: 'unplugged', about: { label: 'USB camera' } }, 'Rail')).toBe(
			'USB camera was unplugged. Plug it in; it comes back by itself.',
		);
		expect(
			['black', 'frozen', 'pageLost', 'noNewFrames'].map((code) => faultShort({ code, about: {} } as never)),
		).toEqual(['Black', 'Stands still', 'All patched', 'No picture']);
	});
});

describe('what is wrong', () => {
	const context = { now: 100_000, holdingCard: 'Back shortly', holdMinutes: 20 };

	it('says since when, and whose device it is', () => {
		const fault = { code: 'unplugged', about: { label: 'USB camera' } } as const;
		expect(wordsFor({ is: 'source', name: 'Rail', at: 92_000, fault }, context)).toBe(
			'Rail, for 8 seconds: USB camera was unplugged. Plug it in; it comes back by itself.',
		);
		const still = { code: 'frozen', about: {} } as const;
		expect(wordsFor({ is: 'source', name: 'Rail', at: 92_000, fault: still }, context)).toContain(
			'For 8 seconds: Rail stands still.',
		);
		expect(wordsFor({ is: 'holding', at: 40_000 }, context)).toContain(
			'Viewers see the card “Back shortly”: nothing has come from the desk for 1 minute.',
		);
	});

	it('with a destination or a file says what is known of it, and what to do', () => {
		const send = { code: 'notListening', about: { where: 'ridge:1935' } } as const;
		expect(wordsFor({ is: 'lost', destinationId: 'ridge', name: 'Ridge Channel', send, at: 96_000 }, context)).toBe(
			'Ridge Channel is lost for 4 seconds: No streaming server answers at ridge:1935. Check the server address, or ask the host. It is tried again by itself.',
		);
		const refused = { is: 'refused', destinationId: 'ridge', name: 'Ridge Channel', send: null } as const;
		expect(wordsFor(refused, context)).toBe('Ridge Channel refuses the stream.');
		const full = { code: 'diskFull', about: {} } as const;
		expect(wordsFor({ is: 'recordingFailed', write: full }, context)).toContain('Make room, and it goes on');
		expect(wordsFor({ is: 'tracksStopped', names: ['Lectern', 'Mic'], write: full }, context)).toBe(
			'Lectern, Mic: no longer recorded separately. The disk is full.',
		);
	});

	it('with a stored event names the parts that were left out', () => {
		const unreadable = [
			{ what: 'scenes', name: 'Talk', problem: '' },
			{ what: 'mix', name: '', problem: '' },
		];
		expect(wordsFor({ is: 'unreadable', unreadable }, context)).toContain(
			'left out: the scene Talk, the settings of the mix.',
		);
	});
});

it('a line of the log is in words, whether people gave them or not', () => {
	const fault = { code: 'noAnswer', about: { where: 'ridge:1935', seconds: 10 } } as const;
	const lost = { is: 'destination', name: 'Ridge Channel', phase: 'lost', fault } as const;
	expect(logLine({ at: 7, kind: 'destination', said: lost })).toEqual({
		at: 7,
		kind: 'destination',
		text: 'Ridge Channel: lost. ridge:1935 did not answer within 10 s.',
	});
	const texts = ['Chapel wide', { is: 'black' }, { is: 'holding', holds: true }] as const;
	expect(texts.map((said) => logLine({ at: 7, kind: 'take', said }).text)).toEqual([
		'Chapel wide',
		'Black',
		'Viewers see the holding card',
	]);
	expect(sendFaultWords({ code: 'refused', about: { asked: 'publish' } })).toBe('The host refused the stream.');
});

it('an error is said in words, whatever part has thrown it', () => {
	expect(problemWords(refuse('noEvent', {}))).toBe('There is no such event.');
	expect(problemWords(sourceFault('notShared', {}), 'Shared screen')).toContain(
		'Shared screen is not shared any more.',
	);
	expect(problemWords(engineFailure('closed', {}))).toContain('Try again.');
	expect(problemWords(new Error('The disk is full.'))).toBe('The disk is full.');
	expect(refuse('noEvent', {})).toBeInstanceOf(Refusal);
});

it('what is wrong with the sound says where, by how much and what to do', () => {
	expect(channelFaultWords('Choir', 'oneSide', 'right')).toContain('Choir has sound on the right side only.');
	expect(loudnessWords(-16.5, -16)).toBe('');
	expect(loudnessWords(-11.2, -16)).toContain('5 dB louder');
	expect(loudnessWords(-23, -16)).toContain('7 dB softer');
	expect(apartWords('Lectern mic', 'Lectern', 46.4)).toContain('Lectern mic comes 46 ms before the picture of Lectern');
	expect(apartWords('Lectern mic', 'Lectern', -140)).toContain('140 ms behind');
	expect(echoWords([])).toBe('');
	expect(echoWords(['Handheld', 'Chapel air'])).toMatch(/^Handheld and Chapel air hear .* echo\./);
});

it('what another program has sent is answered with the place in it that is not understood', () => {
	const about = { problem: 'Invalid type: Expected ("on" | "off")', field: 'to' };
	expect(refusalWords({ code: 'body', about })).toBe(
		'What was sent as “to” is not understood. Invalid type: Expected ("on" | "off").',
	);
	expect(refusalWords({ code: 'body', about: { ...about, field: '' } })).toMatch(/^What was sent is not understood\. /);
});

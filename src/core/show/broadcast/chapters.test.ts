import { describe, expect, it } from 'vitest';
import { chaptersOf, markersOf, webVtt, type LogLine } from './chapters.ts';

const line = (at: number, kind: LogLine['kind'], text: string): LogLine => ({ at, kind, text });
const lines = [
	line(500, 'take', 'Lectern'),
	line(31_000, 'marker', 'The talk'),
	line(12_500, 'take', 'Chapel wide'),
	line(20_000, 'destination', 'Ridge Channel is live'),
	line(90_000, 'take', 'After the end'),
];

describe('chapters of a recording', () => {
	it('begin with what was on air, and are takes and markers in order, from its start', () => {
		expect(markersOf(lines, 1000, 60)).toEqual([
			{ atS: 0, kind: 'take', text: 'Lectern' },
			{ atS: 11.5, kind: 'take', text: 'Chapel wide' },
			{ atS: 30, kind: 'marker', text: 'The talk' },
		]);
		expect(markersOf([], 1000, 60)).toEqual([]);
	});

	it('are named by the run sheet where one was used: the scene of a cue has its name', () => {
		const sheet = [line(2000, 'cue', 'Greeting'), line(2004, 'take', 'Lectern'), line(9000, 'take', 'Chapel wide')];
		const markers = markersOf([...sheet, ...lines], 1000, 60);
		expect(markers.map(({ text }) => text)).toEqual(['Lectern', 'Greeting', 'Chapel wide', 'Chapel wide', 'The talk']);
		expect(chaptersOf(markers).map(({ text }) => text)).toEqual(['Greeting', 'The talk']);
		expect(chaptersOf(markersOf(lines, 1000, 60))).toHaveLength(3);
	});

	it('are WebVTT that no name can break', () => {
		const vtt = webVtt(
			[
				{ atS: 0, kind: 'take', text: 'A' },
				{ atS: 3725.25, kind: 'marker', text: 'B <i> & --> \n\nC' },
			],
			4000,
		);
		expect(vtt).toBe(
			'WEBVTT\n\n00:00:00.000 --> 01:02:05.250\nA\n\n01:02:05.250 --> 01:06:40.000\nB &lt;i&gt; &amp; --&gt; C\n',
		);
	});
});

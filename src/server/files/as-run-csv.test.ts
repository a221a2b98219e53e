import { expect, it } from 'vitest';
import { asRunCsv } from './as-run-csv.ts';

it('the as-run log is CSV that a spreadsheet reads, and does not run', () => {
	const lines = [
		{ at: 0, kind: 'marker' as const, text: 'Say "yes", then go' },
		{ at: 1, kind: 'take' as const, text: '=SUM(A1)' },
	];
	expect(asRunCsv(lines)).toBe(
		'time,what,text\r\n' +
			'1970-01-01T00:00:00.000Z,marker,"Say ""yes"", then go"\r\n' +
			"1970-01-01T00:00:00.001Z,take,'=SUM(A1)\r\n",
	);
});

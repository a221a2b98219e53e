import { stringify } from 'csv-stringify/sync';
import type { LogLine } from '../../core/show/broadcast/chapters.ts';

/** The as-run log as comma-separated values (RFC 4180), with times as ISO 8601 in UTC; no field is run as a formula. */
export function asRunCsv(lines: readonly LogLine[]): string {
	const rows = lines.map(({ at, kind, text }) => [new Date(at).toISOString(), kind, text]);
	return stringify([['time', 'what', 'text'], ...rows], { record_delimiter: 'windows', escape_formulas: true });
}

/** Tables as comma-separated values (RFC 4180). No field is run as a formula by a spreadsheet. */
import { parse } from 'csv-parse/browser/esm/sync';
import { stringify } from 'csv-stringify/browser/esm/sync';

export const CSV = 'text/csv;charset=utf-8';

export function csvOf(rows: readonly (readonly string[])[]): string {
	return stringify([...rows], { record_delimiter: 'windows', escape_formulas: true, bom: true });
}

/**
 * Reads commas, semicolons or tabs between the fields, whatever the first line has most of.
 * @throws {Error} when it is no such table
 */
export function rowsOfCsv(text: string): string[][] {
	const first = text.split(/\r?\n/, 1)[0] ?? '';
	const count = (mark: string) => first.split(mark).length;
	const delimiter = [',', ';', '\t'].reduce((best, mark) => (count(mark) > count(best) ? mark : best));
	return parse(text, { bom: true, delimiter, relax_column_count: true, skip_empty_lines: true, trim: true });
}

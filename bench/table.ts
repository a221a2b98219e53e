/** The table that every bench prints: name, value, unit, yardstick, ratio, limit, ok. */
import { writeFileSync } from 'node:fs';

export interface Row {
	name: string;
	value: number;
	unit: string;
	/** What the same run measured of something well known, in the same unit; null when there is none. */
	yardstick: number | null;
	/** What is held against the limit: value by yardstick where there is one, else the value. */
	ratio: number | null;
	/** Null for figures that are only reported. */
	limit: { most: number } | { least: number } | null;
}

export function row(
	name: string,
	value: number,
	unit: string,
	part: Partial<Pick<Row, 'yardstick' | 'limit'>> = {},
): Row {
	const yardstick = part.yardstick ?? null;
	return {
		name,
		value,
		unit,
		yardstick,
		ratio: yardstick === null ? null : value / yardstick,
		limit: part.limit ?? null,
	};
}

export function holds({ value, ratio, limit }: Row): boolean {
	if (!limit) return true;
	const figure = ratio ?? value;
	return 'most' in limit ? figure <= limit.most : figure >= limit.least;
}

/** Prints rows, writes them as JSON where asked, and tells whether every limit held. */
export function finish(rows: Row[], jsonFile: string | null): boolean {
	const number = (value: number) => (Math.abs(value) >= 100 ? value.toFixed(0) : value.toFixed(3));
	const limit = (each: Row) =>
		each.limit === null ? '' : 'most' in each.limit ? `≤ ${each.limit.most}` : `≥ ${each.limit.least}`;
	const cells = rows.map((each) => [
		each.name,
		number(each.value),
		each.unit,
		each.yardstick === null ? '' : number(each.yardstick),
		each.ratio === null ? '' : number(each.ratio),
		limit(each),
		each.limit === null ? '' : holds(each) ? 'ok' : 'MISSED',
	]);
	const table = [['name', 'value', 'unit', 'yardstick', 'ratio', 'limit', 'ok'], ...cells];
	const widths = table[0]!.map((_, column) => Math.max(...table.map((line) => line[column]!.length)));
	for (const line of table)
		console.log(
			line
				.map((cell, column) => cell.padEnd(widths[column]!))
				.join('  ')
				.trimEnd(),
		);
	if (jsonFile)
		writeFileSync(
			jsonFile,
			JSON.stringify(
				rows.map((each) => ({ ...each, ok: holds(each) })),
				null,
				'\t',
			),
		);
	return rows.every(holds);
}

export function median(values: readonly number[]): number {
	const sorted = values.toSorted((a, b) => a - b);
	return sorted[Math.floor(sorted.length / 2)] ?? NaN;
}

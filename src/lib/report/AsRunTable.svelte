<script lang="ts">
	/** The run sheet as it ran: plan, actual and the difference, on the page and as CSV. */
	import { Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from 'flowbite-svelte';
	import type { AsRun } from '../../core/show/runsheet/as-run.ts';
	import { timeOfDay } from '../../core/show/runsheet/clock-time.ts';
	import Button from '../ui/Button.svelte';
	import { CSV, csvOf } from '../ui/csv.ts';
	import { saveFile } from '../ui/save.ts';
	import { clockOf, report as words } from '../words/index.ts';

	interface Props {
		rows: AsRun[];
		/** Of the event; UTC when empty. */
		timeZone: string;
		/** Of the file that it is saved as, without ending. */
		name: string;
	}
	let { rows, timeZone, name }: Props = $props();

	/** Nobody calls it early or late within a second. */
	const IN_TIME_MS = 1000;
	/** Further from its plan than this, the sheet was tried out on another day. */
	const OTHER_DAY_MS = 12 * 3_600_000;
	const time = (at: number | null) => (at === null ? '' : timeOfDay(at, timeZone));
	const difference = (ms: number | null) =>
		ms === null || Math.abs(ms) > OTHER_DAY_MS
			? ''
			: Math.abs(ms) < IN_TIME_MS
				? words.inTime
				: `${ms > 0 ? '+' : '−'}${clockOf(Math.abs(ms) / 1000)}`;
	const cells = ({ name: what, plannedAt, startedAt, differenceMs, lastedMs }: AsRun) => [
		what,
		time(plannedAt),
		time(startedAt),
		difference(differenceMs),
		clockOf(lastedMs / 1000),
	];
	const HEAD = [words.line, words.planned, words.began, words.difference, words.lasted];
</script>

<section class="grid gap-2" aria-labelledby="as-run">
	<div class="flex flex-wrap items-center gap-4">
		<h2 id="as-run" class="text-lg font-semibold">{words.asRun}</h2>
		<Button size="sm" onclick={() => saveFile(`${name}.csv`, csvOf([HEAD, ...rows.map(cells)]), CSV)}
			>{words.saveCsv}</Button
		>
	</div>
	<Table>
		<TableHead>
			{#each HEAD as head (head)}<TableHeadCell>{head}</TableHeadCell>{/each}
		</TableHead>
		<TableBody>
			{#each rows as row, place (place)}
				<TableBodyRow>
					{#each cells(row) as cell, i (i)}
						<TableBodyCell class={i === 0 ? 'whitespace-normal' : 'figures'}>{cell}</TableBodyCell>
					{/each}
				</TableBodyRow>
			{/each}
		</TableBody>
	</Table>
</section>

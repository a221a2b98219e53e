<script lang="ts">
	/** How a broadcast went: what it comes to, charts over its time, and all that happened. */
	import { format } from 'date-fns';
	import { Badge, Table, TableBody, TableBodyCell, TableBodyRow, TableHead, TableHeadCell } from 'flowbite-svelte';
	import type { LogLine } from '../../core/show/broadcast/chapters.ts';
	import {
		destinationSeries,
		guestSeries,
		loudnessSeries,
		summarise,
		type FiguresAt,
	} from '../../core/show/broadcast/report.ts';
	import type { AsRun } from '../../core/show/runsheet/as-run.ts';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesOf } from '../ui/choices.ts';
	import EventNav from '../ui/EventNav.svelte';
	import { clockOf, rateOf } from '../words/index.ts';
	import { report as words } from '../words/index.ts';
	import AsRunTable from './AsRunTable.svelte';
	import SeriesChart from './SeriesChart.svelte';
	import { invalidateAll } from '$app/navigation';

	interface Props {
		eventId: string;
		title: string;
		running: boolean;
		rehearsal: boolean;
		startedAt: number;
		endedAt: number;
		figures: FiguresAt[];
		lines: LogLine[];
		asRun: AsRun[];
		timeZone: string;
		targetLufs: number;
	}
	let { eventId, title, running, rehearsal, startedAt, endedAt, figures, lines, asRun, timeZone, targetLufs }: Props =
		$props();

	const REFRESH_MS = 10_000;
	$effect(() => {
		if (!running) return;
		const timer = setInterval(() => void invalidateAll(), REFRESH_MS);
		return () => clearInterval(timer);
	});
	const summary = $derived(summarise(figures, startedAt, endedAt));
	const { lastsS } = $derived(summary);
	/** Of destinations that tell how many watch. */
	const viewers = $derived(
		destinationSeries(figures, startedAt, 'viewers').filter(({ points }) => points.some(({ y }) => y !== null)),
	);
	const inThousands = (value: 'kbps' | 'queueBytes') =>
		destinationSeries(figures, startedAt, value).map(({ name, points }) => ({
			name,
			points: points.map(({ x, y }) => ({ x, y: y === null ? null : y / 1000 })),
		}));
	const machine = $derived([
		{
			name: words.server,
			points: figures.map(({ at, serverCores }) => ({ x: (at - startedAt) / 1000, y: 100 * serverCores })),
		},
		{
			name: words.deskFrames,
			points: figures.map(({ at, engine }) => ({
				x: (at - startedAt) / 1000,
				y: engine && 100 * engine.load,
			})),
		},
	]);
	const guests = $derived(guestSeries(figures, startedAt));
	const KINDS = {
		all: words.everything,
		destination: words.destinations,
		cue: words.runSheet,
		take: words.takes,
		marker: words.markers,
		holding: words.holdingCard,
		rate: words.rates,
	} as const;
	let only = $state<keyof typeof KINDS>('all');
	const shown = $derived(lines.filter(({ kind }) => only === 'all' || kind === only));
</script>

<main class="mx-auto grid max-w-6xl gap-5 p-6">
	<header class="grid gap-1">
		<EventNav {eventId} here="report" {title} />
		<div class="flex flex-wrap items-baseline gap-4">
			<h1 class="text-2xl font-bold">
				{(rehearsal ? words.rehearsalOf : words.broadcastOf)(title, format(startedAt, 'd MMMM, HH:mm'))}
			</h1>
			{#if running}<Badge class="bg-air text-white">{rehearsal ? words.running : words.onAir}</Badge>{/if}
		</div>
	</header>

	<section class="grid gap-2" aria-labelledby="in-short">
		<h2 id="in-short" class="text-lg font-semibold">{words.inShort}</h2>
		<p>
			{running ? words.itHasLasted : words.itLasted} <strong class="figures">{clockOf(lastsS)}</strong>.
			{#if summary.loudness !== null}{words.soundCame}
				<strong class="figures">{words.lufs(summary.loudness.toFixed(1))}</strong>
				{words.target(targetLufs)}{/if}
			{#if summary.heldS > 0}{words.viewersSawHoldingCardAbout}
				<strong class="figures">{clockOf(summary.heldS)}</strong>.{:else}{words.viewersNeverHadHeldWith}{/if}
		</p>
		<Table>
			<TableHead>
				{#each [words.destination, words.streamed, words.meanRate, words.framesDropped] as head (head)}
					<TableHeadCell>{head}</TableHeadCell>
				{/each}
			</TableHead>
			<TableBody>
				{#each summary.destinations as { name, liveS, meanKbps, lostFrames }, place (place)}
					<TableBodyRow>
						<TableBodyCell>{name}</TableBodyCell>
						<TableBodyCell class="figures">{clockOf(liveS)}</TableBodyCell>
						<TableBodyCell class="figures">{rateOf(Math.round(meanKbps))}</TableBodyCell>
						<TableBodyCell class="figures">{lostFrames}</TableBodyCell>
					</TableBodyRow>
				{:else}
					<TableBodyRow><TableBodyCell colspan={4}>{words.notSentAnyDestination}</TableBodyCell></TableBodyRow>
				{/each}
			</TableBody>
		</Table>
	</section>

	{#if asRun.length > 0}
		<AsRunTable rows={asRun} {timeZone} name={words.asRunFile(title, format(startedAt, 'yyyy-MM-dd'))} />
	{/if}

	{#key figures.length}
		<section class="grid gap-3 md:grid-cols-2" aria-label={words.charts}>
			<SeriesChart title={words.rate} unit="Mbit/s" series={inThousands('kbps')} {lastsS} />
			<SeriesChart title={words.waitingSent} unit="kB" series={inThousands('queueBytes')} {lastsS} />
			<SeriesChart
				title={words.framesDropped}
				unit="frames"
				series={destinationSeries(figures, startedAt, 'lostFrames')}
				{lastsS}
				counts
			/>
			<SeriesChart
				title={words.loudness}
				unit="LUFS"
				series={loudnessSeries(figures, startedAt, words.loudnessLines)}
				{lastsS}
				target={targetLufs}
			/>
			<SeriesChart title={words.processorLoad} unit="% of one core" series={machine} {lastsS} />
			{#if viewers.length > 0}<SeriesChart title={words.viewers} unit="" series={viewers} {lastsS} counts />{/if}
			{#if guests.length > 0}<SeriesChart title={words.guestsLose} unit="%" series={guests} {lastsS} />{/if}
		</section>
	{/key}

	<section class="grid gap-2" aria-labelledby="happened">
		<div class="flex flex-wrap items-center gap-4">
			<h2 id="happened" class="text-lg font-semibold">{words.whatHappened}</h2>
			<ChoiceField
				class="w-48"
				label={words.showOnly}
				value={only}
				choices={choicesOf(KINDS)}
				onchange={(kind) => (only = kind)}
			/>
		</div>
		<ol class="max-h-96 overflow-y-auto rounded-sm border border-gray-300 bg-white">
			{#each shown as { at, kind, text }, i (i)}
				<li class="flex gap-4 border-t border-gray-200 px-3 py-1.5 first:border-t-0">
					<span class="figures text-gray-600">{format(at, 'HH:mm:ss')}</span>
					<span class={kind === 'marker' ? 'font-bold' : ''}>{kind === 'marker' ? '◆ ' : ''}{text}</span>
				</li>
			{:else}
				<li class="p-3 text-gray-600">{words.nothingKind}</li>
			{/each}
		</ol>
	</section>
</main>

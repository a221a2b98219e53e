<script lang="ts">
	/** How a broadcast went: what it comes to, charts over its time, and all that happened. */
	import {
		Badge,
		Select,
		Table,
		TableBody,
		TableBodyCell,
		TableBodyRow,
		TableHead,
		TableHeadCell,
	} from 'flowbite-svelte';
	import Crumbs from '../ui/Crumbs.svelte';
	import { invalidateAll } from '$app/navigation';
	import { format } from 'date-fns';
	import type { LogLine } from '../../core/show/broadcast/chapters.ts';
	import { destinationSeries, loudnessSeries, summarise, type FiguresAt } from '../../core/show/broadcast/report.ts';
	import { clockOf, rateOf } from '../ui/format.ts';
	import SeriesChart from './SeriesChart.svelte';

	interface Props {
		eventId: string;
		title: string;
		running: boolean;
		rehearsal: boolean;
		startedAt: number;
		endedAt: number;
		figures: FiguresAt[];
		lines: LogLine[];
		targetLufs: number;
	}
	let { eventId, title, running, rehearsal, startedAt, endedAt, figures, lines, targetLufs }: Props = $props();

	const REFRESH_MS = 10_000;
	$effect(() => {
		if (!running) return;
		const timer = setInterval(() => void invalidateAll(), REFRESH_MS);
		return () => clearInterval(timer);
	});
	const summary = $derived(summarise(figures, startedAt, endedAt));
	const { lastsS } = $derived(summary);
	const inThousands = (value: 'kbps' | 'queueBytes') =>
		destinationSeries(figures, startedAt, value).map(({ name, points }) => ({
			name,
			points: points.map(({ x, y }) => ({ x, y: y === null ? null : y / 1000 })),
		}));
	const machine = $derived([
		{
			name: 'Server',
			points: figures.map(({ at, serverCores }) => ({ x: (at - startedAt) / 1000, y: 100 * serverCores })),
		},
		{
			name: 'Desk, pictures',
			points: figures.map(({ at, engine }) => ({
				x: (at - startedAt) / 1000,
				y: engine && 100 * engine.load,
			})),
		},
	]);
	let only = $state('all');
	const KINDS = {
		all: 'Everything',
		destination: 'Destinations',
		take: 'Takes',
		marker: 'Markers',
		holding: 'Holding card',
		rate: 'Rates',
	} as const;
	const isOf = (kind: LogLine['kind']) => kind === only || (only === 'broadcast' && kind === 'rehearsal');
	const shown = $derived(lines.filter(({ kind }) => only === 'all' || isOf(kind)));
</script>

<main class="mx-auto grid max-w-6xl gap-5 p-6">
	<header class="grid gap-1">
		<Crumbs
			pages={[
				{ name: `Desk of ${title}`, href: `/events/${eventId}` },
				{ name: 'Recordings', href: `/events/${eventId}/recordings` },
				{ name: 'Report' },
			]}
		/>
		<div class="flex flex-wrap items-baseline gap-4">
			<h1 class="text-2xl font-bold">
				{title}: {rehearsal ? 'rehearsal' : 'broadcast'} of {format(startedAt, 'd MMMM, HH:mm')}
			</h1>
			{#if running}<Badge class="bg-air text-white">{rehearsal ? 'RUNNING' : 'ON AIR'}</Badge>{/if}
		</div>
	</header>

	<section class="grid gap-2" aria-labelledby="in-short">
		<h2 id="in-short" class="text-lg font-semibold">In short</h2>
		<p>
			It {running ? 'has lasted' : 'lasted'} <strong class="figures">{clockOf(lastsS)}</strong>.
			{#if summary.loudness !== null}The sound came to <strong class="figures"
					>{summary.loudness.toFixed(1)} LUFS</strong
				>
				(target {targetLufs}).{/if}
			{#if summary.heldS > 0}Viewers saw the holding card for about <strong class="figures"
					>{clockOf(summary.heldS)}</strong
				>.{:else}Viewers never had to be held with a card.{/if}
		</p>
		<Table>
			<TableHead>
				{#each ['Destination', 'Streamed for', 'Mean rate', 'Frames dropped'] as head (head)}
					<TableHeadCell>{head}</TableHeadCell>
				{/each}
			</TableHead>
			<TableBody>
				{#each summary.destinations as { name, liveS, meanKbps, lostFrames } (name)}
					<TableBodyRow>
						<TableBodyCell>{name}</TableBodyCell>
						<TableBodyCell class="figures">{clockOf(liveS)}</TableBodyCell>
						<TableBodyCell class="figures">{rateOf(Math.round(meanKbps))}</TableBodyCell>
						<TableBodyCell class="figures">{lostFrames}</TableBodyCell>
					</TableBodyRow>
				{:else}
					<TableBodyRow><TableBodyCell colspan={4}>It was not sent to any destination.</TableBodyCell></TableBodyRow>
				{/each}
			</TableBody>
		</Table>
	</section>

	{#key figures.length}
		<section class="grid gap-3 md:grid-cols-2" aria-label="Charts">
			<SeriesChart title="Rate" unit="Mbit/s" series={inThousands('kbps')} {lastsS} />
			<SeriesChart title="Waiting to be sent" unit="kB" series={inThousands('queueBytes')} {lastsS} />
			<SeriesChart
				title="Frames dropped"
				unit="frames"
				series={destinationSeries(figures, startedAt, 'lostFrames')}
				{lastsS}
				counts
			/>
			<SeriesChart
				title="Loudness"
				unit="LUFS"
				series={loudnessSeries(figures, startedAt)}
				{lastsS}
				target={targetLufs}
			/>
			<SeriesChart title="Processor load" unit="% of one core" series={machine} {lastsS} />
		</section>
	{/key}

	<section class="grid gap-2" aria-labelledby="happened">
		<div class="flex flex-wrap items-center gap-4">
			<h2 id="happened" class="text-lg font-semibold">What happened</h2>
			<Select size="sm" placeholder="" class="w-48" aria-label="Show only" bind:value={only}>
				{#each Object.entries(KINDS) as [kind, words] (kind)}<option value={kind}>{words}</option>{/each}
			</Select>
		</div>
		<ol class="max-h-96 overflow-y-auto rounded-sm border border-gray-300 bg-white">
			{#each shown as { at, kind, text }, i (i)}
				<li class="flex gap-4 border-t border-gray-200 px-3 py-1.5 first:border-t-0">
					<span class="figures text-gray-600">{format(at, 'HH:mm:ss')}</span>
					<span class={kind === 'marker' ? 'font-bold' : ''}>{kind === 'marker' ? '◆ ' : ''}{text}</span>
				</li>
			{:else}
				<li class="p-3 text-gray-600">Nothing of that kind.</li>
			{/each}
		</ol>
	</section>
</main>

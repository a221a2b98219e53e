<script lang="ts">
	/** One node: whether it is there, what it has to do, and emptying it before maintenance. */
	import { format, formatDuration, intervalToDuration } from 'date-fns';
	import { Badge, Card, Progressbar } from 'flowbite-svelte';
	import type { Emptying } from '../../core/nodes/load.ts';
	import type { NodeShown } from '../../core/nodes/shown.ts';
	import Button from '../ui/Button.svelte';
	import { bytesOf, nodes as words, rateOf } from '../words/index.ts';

	interface Props {
		node: NodeShown;
		/** True where another node takes what this one gives away. */
		hasOther: boolean;
		onempty: (emptying: Emptying | null) => void;
	}
	let { node, hasOther, onempty }: Props = $props();
	const { load } = $derived(node);
	/** The first press asks. */
	let asks = $state(false);

	const version = $derived(
		node.builtAt === null ? node.version : words.built(node.version, format(node.builtAt, 'd MMM, HH:mm')),
	);
	// What a node says of itself is a moment old; what it has just taken over is in the list at once.
	const events = $derived(Math.max(load.events, node.events.length));
	const onAir = $derived(Math.max(load.onAir, node.events.filter((event) => event.onAir).length));
	const elsewhere = $derived(events - node.events.length);
	const isEmpty = $derived(events === 0);
	const ago = $derived(
		formatDuration(intervalToDuration({ start: 0, end: Math.max(1000, node.seenMs) }), { delimiter: ', ' }),
	);
	const standing = $derived(
		node.emptying === null
			? ''
			: isEmpty
				? load.keeps > 0
					? words.handsOver(load.keeps)
					: words.empty
				: !hasOther
					? words.noOther
					: node.emptying === 'now'
						? words.emptyingNow
						: words.emptyingGently,
	);

	function emptyNow() {
		if (onAir > 0 && !asks) {
			asks = true;
			return;
		}
		asks = false;
		onempty('now');
	}
</script>

{#snippet gauge(name: string, says: string, part: number | null)}
	<div class="grid gap-1">
		<div class="flex justify-between gap-4 text-sm">
			<span class="text-gray-600">{name}</span><span class="figures text-right">{says}</span>
		</div>
		{#if part !== null}
			{@const percent = Math.min(100, Math.round(100 * part))}
			<Progressbar
				progress={percent}
				size="h-2"
				role="meter"
				aria-label={name}
				aria-valuemin={0}
				aria-valuemax={100}
				aria-valuenow={percent}
			/>
		{/if}
	</div>
{/snippet}

<Card class="grid gap-4 p-5" data-node={node.name}>
	<header class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
		<h2 class="figures text-xl font-semibold break-all">{node.name}</h2>
		{#if node.isThere}<strong class="text-moss">● {words.there}</strong>
		{:else}<strong class="text-air">▲ {words.gone}, {words.seen(ago)}</strong>{/if}
		<span class="text-sm text-gray-600">
			{words.version(version, format(node.startedAt, 'd MMM, HH:mm'))}{node.isThis ? `; ${words.thisOne}` : ''}
		</span>
	</header>
	{#if node.isThere}
		<div class="grid gap-x-8 gap-y-3 sm:grid-cols-3">
			{@render gauge(
				words.cores,
				words.coresOf(load.usedCores.toFixed(1), load.cores),
				load.cores > 0 ? load.usedCores / load.cores : null,
			)}
			{@render gauge(
				words.line,
				load.lineKbps === null
					? rateOf(Math.round(load.sendsKbps))
					: words.lineOf(rateOf(Math.round(load.sendsKbps)), rateOf(load.lineKbps)),
				load.lineKbps === null ? null : load.sendsKbps / load.lineKbps,
			)}
			{#if load.diskBytes !== null}{@render gauge(words.disk, words.diskFree(bytesOf(load.diskBytes)), null)}{/if}
		</div>
		<div>
			<p class="font-semibold">{words.events(events, onAir)}</p>
			<ul class="mt-1 grid gap-1">
				{#each node.events as event (event.id)}
					<li class="flex items-center gap-2">
						<a class="inline-block min-h-6 underline" href="/events/{event.id}/prepare">{event.title}</a>
						{#if event.onAir}<Badge class="bg-air text-white">{words.onAir}</Badge>{/if}
					</li>
				{/each}
				{#if elsewhere > 0}<li class="text-gray-600">{words.ofOthers(elsewhere)}</li>{/if}
			</ul>
		</div>
		<footer class="flex flex-wrap items-center gap-3">
			{#if node.emptying !== null}
				<strong role="status">{standing}</strong>
				<Button size="touch" onclick={() => onempty(null)}>{words.takeAgain}</Button>
			{/if}
			{#if node.emptying === null}
				<Button size="touch" hint={words.emptyAtEndHint} disabled={!hasOther} onclick={() => onempty('atEnd')}
					>{words.emptyAtEnd}</Button
				>
			{/if}
			{#if node.emptying !== 'now' && !isEmpty}
				<Button
					size="touch"
					hint={words.emptyNowHint}
					disabled={!hasOther}
					onclick={emptyNow}
					onblur={() => (asks = false)}>{asks ? words.really : words.emptyNow}</Button
				>
			{/if}
		</footer>
	{:else}
		<p class="text-gray-600">{words.goneHint}</p>
		{#if load.keeps > 0}<p class="font-semibold">{words.goneKeeps(load.keeps)}</p>{/if}
	{/if}
</Card>

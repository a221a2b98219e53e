<script lang="ts">
	/** The first page: the evening that comes next, all others by date, and a form for one more. */
	import { Input } from 'flowbite-svelte';
	import type { AnyRole } from '../../core/access/roles.ts';
	import type { CheckState } from '../../core/line-check/entry.ts';
	import AsksFields from '../templates/AsksFields.svelte';
	import Button from '../ui/Button.svelte';
	import Fold from '../ui/Fold.svelte';
	import Warning from '../ui/Warning.svelte';
	import { plan as words } from '../words/index.ts';
	import Bundles from './Bundles.svelte';
	import EventRow from './EventRow.svelte';
	import NewEvent, { type TemplateChoice } from './NewEvent.svelte';
	import NextEvent from './NextEvent.svelte';
	import { sortEvents } from './order.ts';
	import { EventShelf } from './shelf.svelte.ts';

	interface Props {
		events: { id: string; title: string; startsAt: string; role: AnyRole | null; archivedAt: number | null }[];
		/** Of the event that comes next. */
		next: { id: string; counts: Record<CheckState, number> | null; onAir: boolean } | null;
		templates: TemplateChoice[];
		/** Milliseconds since 1970. */
		now: number;
		mayMake: boolean;
		mayExchange: boolean;
	}
	let { events, next, templates, now, mayMake, mayExchange }: Props = $props();

	const shelf = new EventShelf();
	let search = $state('');
	let from = $state('');
	/** Of the template whose questions are in sight. */
	let asking = $state('');
	const sorted = $derived(sortEvents(events, now, search));
	const lists = $derived([
		['coming', sorted.next ? words.afterThat : words.coming, sorted.coming],
		['past', words.past, sorted.past],
	] as const);
	const isEmpty = $derived(events.length === 0);
	/** More than these are looked for rather than scrolled to. */
	const SEARCHED_FROM = 5;
</script>

{#snippet row(event: Props['events'][number], which: 'coming' | 'past')}
	<EventRow
		{event}
		{which}
		{shelf}
		mayChange={mayMake}
		mayExport={mayExchange}
		oncopy={() => (from = `event ${event.id}`)}
	/>
{/snippet}

<div class="grid content-start gap-6">
	{#if shelf.notice}
		<p class="flex items-center gap-3 rounded-sm border border-gray-400 bg-white px-3 py-2" role="status">
			<span class="flex-1">{shelf.notice.text}</span>
			{#if shelf.notice.undo}
				<Button size="sm" onclick={() => shelf.undo()}>{words.undo}</Button>
			{/if}
		</p>
	{/if}
	{#if isEmpty}
		<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">
			{mayMake ? words.nothingHereYetMakeYour : words.nothingHereYet}
		</p>
	{/if}
	{#if sorted.next}
		<NextEvent
			event={sorted.next}
			counts={next?.id === sorted.next.id ? next.counts : null}
			onAir={next?.id === sorted.next.id && next.onAir}
			{now}
			{shelf}
			mayChange={mayMake}
			mayExport={mayExchange}
			oncopy={() => (from = `event ${sorted.next!.id}`)}
		/>
	{/if}
	{#if events.length >= SEARCHED_FROM}
		<Input size="sm" type="search" bind:value={search} placeholder={words.search} aria-label={words.search} />
	{/if}
	{#each lists as [which, name, list] (which)}
		{#if list.length > 0}
			<section aria-labelledby="list-{which}">
				<h2 id="list-{which}" class="mb-2 text-xl font-semibold">{name}</h2>
				<ul class="grid gap-2">
					{#each list as event (event.id)}
						{@render row(event, which)}
					{/each}
				</ul>
			</section>
		{/if}
	{/each}
	{#if search.trim() !== '' && sorted.coming.length + sorted.past.length + sorted.archived.length === 0}
		<p class="text-gray-600">{words.nothingFound}</p>
	{/if}
	{#if sorted.archived.length > 0}
		<Fold title={words.archived(sorted.archived.length)}>
			<ul class="grid gap-2">
				{#each sorted.archived as event (event.id)}
					{@render row(event, 'past')}
				{/each}
			</ul>
		</Fold>
	{/if}
	{#if shelf.problem && !mayMake}<Warning urgent>{shelf.problem}</Warning>{/if}
</div>
{#if mayMake}
	<div class="grid content-start gap-4">
		<NewEvent
			{shelf}
			{templates}
			events={[...sorted.coming, ...sorted.past, ...(sorted.next ? [sorted.next] : [])]}
			bind:from
		/>
		{#if mayExchange}<Fold title={words.exchange}><Bundles /></Fold>{/if}
		{#if templates.length > 0}
			<Fold title={words.templates}>
				<ul class="grid gap-1">
					{#each templates as { id, name, asks, fields } (id)}
						<li class="grid grid-cols-1 gap-2">
							<div class="flex items-center gap-2">
								<span class="min-w-0 flex-1 truncate">{name}</span>
								<Button size="sm" aria-expanded={asking === id} onclick={() => (asking = asking === id ? '' : id)}
									>{words.whatItAsks}</Button
								>
								<Button size="sm" onclick={() => void shelf.removeTemplate(id, name)}>{words.delete}</Button>
							</div>
							{#if asking === id}
								<AsksFields {asks} {fields} onchange={(changed) => shelf.changeTemplate(id, changed)} />
							{/if}
						</li>
					{/each}
				</ul>
				<p class="mt-2 text-sm text-gray-600">{words.templateHint}</p>
			</Fold>
		{/if}
	</div>
{/if}

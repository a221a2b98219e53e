<script lang="ts">
	/** One event of a list, and what can be done with it. */
	import { format } from 'date-fns';
	import { Input, Label } from 'flowbite-svelte';
	import type { AnyRole } from '../../core/access/roles.ts';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
	import Button from '../ui/Button.svelte';
	import { plan as words } from '../words/index.ts';
	import EventLinks from './EventLinks.svelte';
	import type { EventShelf } from './shelf.svelte.ts';

	interface Props {
		event: { id: string; title: string; startsAt: string; role: AnyRole | null; archivedAt: number | null };
		which: 'coming' | 'past';
		shelf: EventShelf;
		mayChange: boolean;
		oncopy: () => void;
	}
	let { event, which, shelf, mayChange, oncopy }: Props = $props();

	let changing = $state(false);
	let title = $state('');
	let startsAt = $state('');
	function begin() {
		({ title, startsAt } = event);
		changing = true;
	}
	async function change(submitted: SubmitEvent) {
		submitted.preventDefault();
		if (await shelf.change(event.id, { title, startsAt })) changing = false;
	}
	const when = $derived(event.startsAt ? format(new Date(event.startsAt), 'EEEE d MMMM yyyy, HH:mm') : words.noTime);
</script>

<li class="grid gap-2 border-l-4 border-gray-300 bg-white px-4 py-3">
	{#if changing}
		<form class="grid gap-3 sm:grid-cols-[minmax(0,1fr)_14rem]" onsubmit={change}>
			<Label>{words.name}<Input bind:value={title} required maxlength={MOST_NAME_LETTERS} class="mt-1" /></Label>
			<Label>{words.starts}<Input type="datetime-local" bind:value={startsAt} class="mt-1" /></Label>
			<p class="text-sm text-gray-600 sm:col-span-2">{words.changeHint}</p>
			<div class="flex gap-2 sm:col-span-2">
				<Button look="main" type="submit">{words.save}</Button>
				<Button onclick={() => (changing = false)}>{words.cancel}</Button>
			</div>
		</form>
	{:else}
		<div class="min-w-0">
			<h3 class="text-lg font-semibold break-words">{event.title}</h3>
			<p class="text-gray-600">{when}</p>
		</div>
		<EventLinks {event} {which} more />
		{#if mayChange}
			<div class="flex flex-wrap gap-x-4 text-sm">
				<Button look="bare" class="inline-block min-h-6 underline" onclick={begin}>{words.change}</Button>
				<Button look="bare" class="inline-block min-h-6 underline" onclick={oncopy}>{words.copy}</Button>
				{#if event.archivedAt === null}
					<Button
						look="bare"
						class="inline-block min-h-6 underline"
						onclick={() => void shelf.putAway(event.id, event.title, 'archived')}>{words.archive}</Button
					>
				{:else}
					<Button
						look="bare"
						class="inline-block min-h-6 underline"
						onclick={() => void shelf.bringBack(event.id, event.title)}>{words.bringBack}</Button
					>
				{/if}
				<Button
					look="bare"
					class="inline-block min-h-6 underline"
					onclick={() => void shelf.putAway(event.id, event.title, 'deleted')}>{words.delete}</Button
				>
			</div>
		{/if}
	{/if}
</li>

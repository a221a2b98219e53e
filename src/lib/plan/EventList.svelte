<script lang="ts">
	import { format } from 'date-fns';
	import { Card } from 'flowbite-svelte';
	import Button from '../ui/Button.svelte';
	import { plan as words } from '../words/index.ts';

	interface Props {
		events: { id: string; title: string; startsAt: string }[];
	}
	let { events }: Props = $props();

	const when = (startsAt: string) => (startsAt ? format(new Date(startsAt), 'EEEE d MMMM yyyy, HH:mm') : words.noTime);
</script>

<section aria-labelledby="events">
	<h2 id="events" class="mb-3 text-xl font-semibold">{words.events}</h2>
	{#if events.length === 0}
		<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">
			{words.nothingHereYetMakeYour}
		</p>
	{/if}
	<ul class="grid gap-3">
		{#each events as event (event.id)}
			<li>
				<Card class="flex-row flex-wrap items-center gap-3 p-4">
					<div class="min-w-56 flex-1">
						<h3 class="text-lg font-semibold">{event.title}</h3>
						<p class="text-gray-600">{when(event.startsAt)}</p>
					</div>
					<Button look="main" size="touch" href="/events/{event.id}">{words.openDesk}</Button>
					<Button size="touch" href="/events/{event.id}/recordings">{words.recordings}</Button>
				</Card>
			</li>
		{/each}
	</ul>
</section>

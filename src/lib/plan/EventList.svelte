<script lang="ts">
	import { format } from 'date-fns';

	interface Props {
		events: { id: string; title: string; startsAt: string }[];
	}
	let { events }: Props = $props();

	const when = (startsAt: string) => (startsAt ? format(new Date(startsAt), 'EEEE d MMMM yyyy, HH:mm') : 'No time set');
</script>

<section aria-labelledby="events">
	<h2 id="events" class="mb-3 text-xl font-semibold">Events</h2>
	{#if events.length === 0}
		<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">
			Nothing here yet. Make your first event on the right; you can change everything later.
		</p>
	{/if}
	<ul class="grid gap-3">
		{#each events as event (event.id)}
			<li class="flex items-stretch gap-2">
				<a
					href="/events/{event.id}"
					class="flex flex-1 items-center justify-between gap-4 rounded-sm border border-gray-300 bg-white p-4 hover:border-ink"
				>
					<span>
						<span class="block text-lg font-semibold">{event.title}</span>
						<span class="text-gray-600">{when(event.startsAt)}</span>
					</span>
					<span class="rounded-sm bg-ink px-4 py-2 font-semibold text-paper">Open the desk</span>
				</a>
				<a
					href="/events/{event.id}/recordings"
					class="flex items-center rounded-sm border border-gray-300 bg-white px-4 hover:border-ink">Recordings</a
				>
			</li>
		{/each}
	</ul>
</section>

<script lang="ts">
	import { format } from 'date-fns';
	import { Card } from 'flowbite-svelte';
	import { mayUse } from '../../core/access/policy.ts';
	import type { AnyRole } from '../../core/access/roles.ts';
	import Button from '../ui/Button.svelte';
	import { plan as words, ui } from '../words/index.ts';

	interface Props {
		events: { id: string; title: string; startsAt: string; role: AnyRole | null }[];
	}
	let { events }: Props = $props();

	const pages = [
		['', words.openDesk],
		['/prepare', words.prepare],
		['/mix', words.mix],
		['/words', ui.words],
		['/panel/event', ui.panel],
		['/tally', ui.tally],
		['/hall', ui.hall],
		['/stage', ui.stage],
		['/sheet', words.sheet],
		['/recordings', words.recordings],
	] as const;
	const when = (startsAt: string) => (startsAt ? format(new Date(startsAt), 'EEEE d MMMM yyyy, HH:mm') : words.noTime);
</script>

<section aria-labelledby="events">
	<h2 id="events" class="mb-3 text-xl font-semibold">{words.events}</h2>
	{#if events.length === 0}
		<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">
			{words.nothingHereYetMakeYour}
		</p>
	{/if}
	<ul class="grid grid-cols-1 gap-3">
		{#each events as event (event.id)}
			<li>
				<Card class="max-w-none gap-3 p-4">
					<div class="min-w-0">
						<h3 class="text-lg font-semibold break-words">{event.title}</h3>
						<p class="text-gray-600">{when(event.startsAt)}</p>
					</div>
					<div class="flex flex-wrap gap-2">
						{#each pages.filter( ([path]) => mayUse(event.role, `/events/[id]${path.replace('/event', '/[panel]')}`, 'GET') ) as [path, name], i (path)}
							<Button look={i === 0 ? 'main' : 'plain'} size="touch" href="/events/{event.id}{path}">{name}</Button>
						{/each}
					</div>
				</Card>
			</li>
		{/each}
	</ul>
</section>

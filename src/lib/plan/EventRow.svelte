<script lang="ts">
	/** One event of a list, and what can be done with it. */
	import { format } from 'date-fns';
	import type { ComponentProps } from 'svelte';
	import type { AnyRole } from '../../core/access/roles.ts';
	import { plan as words } from '../words/index.ts';
	import EventActions from './EventActions.svelte';
	import EventLinks from './EventLinks.svelte';

	interface Props extends ComponentProps<typeof EventActions> {
		event: ComponentProps<typeof EventActions>['event'] & { role: AnyRole | null };
		which: 'coming' | 'past';
		mayChange: boolean;
	}
	let { event, which, mayChange, ...actions }: Props = $props();

	const when = $derived(event.startsAt ? format(new Date(event.startsAt), 'EEEE d MMMM yyyy, HH:mm') : words.noTime);
</script>

<li class="grid gap-2 border-l-4 border-gray-300 bg-white px-4 py-3">
	<div class="min-w-0">
		<h3 class="text-lg font-semibold break-words">{event.title}</h3>
		<p class="text-gray-600">{when}</p>
	</div>
	<EventLinks {event} {which} more />
	{#if mayChange}<EventActions {event} {...actions} />{/if}
</li>

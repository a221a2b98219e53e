<script lang="ts">
	/** The event that comes next, large: when, how long it is until then, and what is not ready. */
	import { format, formatDistanceStrict } from 'date-fns';
	import type { ComponentProps } from 'svelte';
	import type { AnyRole } from '../../core/access/roles.ts';
	import type { CheckState } from '../../core/line-check/entry.ts';
	import { check as checkWords, durationOf, plan as words } from '../words/index.ts';
	import EventActions from './EventActions.svelte';
	import EventLinks from './EventLinks.svelte';

	interface Props extends ComponentProps<typeof EventActions> {
		event: ComponentProps<typeof EventActions>['event'] & { role: AnyRole | null };
		mayChange: boolean;
		/** How its line check stands; null for who may not see it. */
		counts: Record<CheckState, number> | null;
		onAir: boolean;
		now: number;
	}
	let { event, counts, onAir, now, mayChange, ...actions }: Props = $props();

	const starts = $derived(new Date(event.startsAt));
	/** Near it, to the minute. */
	const leftUntil = (then: Date) =>
		then.getTime() - now < 48 * 3_600_000
			? durationOf((then.getTime() - now) / 1000)
			: formatDistanceStrict(then, now, { roundingMethod: 'floor' });
	const isToday = $derived(event.startsAt.slice(0, 10) === format(now, 'yyyy-MM-dd'));
	const distance = $derived(starts.getTime() > now ? words.startsIn(leftUntil(starts)) : words.begun);
</script>

<section class="grid gap-3 border-l-8 border-lamp bg-white p-5" aria-labelledby="next">
	<div>
		<p class="font-semibold text-gray-600">{isToday ? words.today : words.next}</p>
		<h2 id="next" class="text-3xl font-bold break-words">{event.title}</h2>
		<p class="text-xl">
			{format(starts, 'EEEE d MMMM, HH:mm')}: <strong>{onAir ? words.onAirNow : distance}</strong>
		</p>
	</div>
	{#if counts && !onAir}
		<p class="flex flex-wrap gap-x-4 gap-y-1">
			{#if counts.wrong > 0}<strong class="border-l-4 border-air px-2">{checkWords.wrong(counts.wrong)}</strong>{/if}
			{#if counts.weak > 0}<span class="border-l-4 border-lamp px-2">{checkWords.weak(counts.weak)}</span>{/if}
			{#if counts.unseen > 0}<span class="border-l-4 border-dashed border-gray-500 px-2"
					>{checkWords.unseen(counts.unseen)}</span
				>{/if}
			{#if counts.wrong + counts.weak + counts.unseen === 0}<strong class="border-l-4 border-moss px-2"
					>{checkWords.ready}</strong
				>{/if}
			<a class="underline" href="/events/{event.id}/check">{checkWords.toCheck}</a>
		</p>
	{/if}
	<EventLinks {event} which="coming" />
	{#if mayChange}<EventActions {event} {...actions} />{/if}
</section>

<script lang="ts">
	/** Who is there by video: let in, given a seat, spoken with, sent away. */
	import { Label } from 'flowbite-svelte';
	import { seatsFor } from '../../../core/show/guests/guest.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import type { Choice } from '../../ui/choices.ts';
	import { guest as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import GuestCard from './GuestCard.svelte';
	import GuestLinks from './GuestLinks.svelte';

	const session = useDesk();
	const show = $derived(session.state);
	const seats = $derived(seatsFor(show));
	const sceneChoices = $derived<Choice<string>[]>([
		['', words.guestsSeeNothing],
		...show.setup.scenes.map(({ id, name }): Choice<string> => [id, name]),
	]);
	/** Who waits is what is to be done next. */
	const guests = $derived(show.live.guests.toSorted((a, b) => Number(a.isIn) - Number(b.isIn)));
</script>

<div class="grid min-h-0 content-start gap-2 overflow-y-auto">
	<section class="panel" aria-labelledby="guests">
		<div class="flex items-center justify-between gap-2">
			<h2 id="guests" class="panel-title">{words.guests}</h2>
			{#if guests.some(({ isIn }) => isIn)}
				<Button
					size="xs"
					class="mr-2"
					lit="air"
					aria-pressed={session.talksTo === 'all'}
					hint={words.talkHint}
					disabled={!session.engine}
					onhold={(held) => void session.talk(held ? 'all' : null)}>{words.talkAll}</Button
				>
			{/if}
		</div>
		<ul class="grid">
			{#each guests as guest (guest.id)}
				<GuestCard {guest} />
			{:else}
				<li class="border-t border-slate-rule px-3 py-2 text-sm text-gray-300">{words.nobody}</li>
			{/each}
		</ul>
		<div class="grid gap-2 border-t border-slate-rule p-2 text-sm">
			{#if guests.length > 0}
				<Label class="text-sm">
					{words.guestsSee}
					<ChoiceField
						class="mt-1"
						value={show.live.guestScene ?? ''}
						choices={sceneChoices}
						onchange={(sceneId) => session.do({ type: 'setGuestScene', sceneId: sceneId === '' ? null : sceneId })}
					/>
				</Label>
			{/if}
			{#if seats.length === 0}<p class="text-gray-300">{words.noSeats}</p>{/if}
			<div class="flex flex-wrap gap-2">
				<Button size="xs" onclick={() => session.addSeat(words.seatNumber(seats.length + 1), 'camera')}
					>{words.addSeat}</Button
				>
				<Button size="xs" onclick={() => session.addSeat(words.screenSeat, 'screen')}>{words.addScreenSeat}</Button>
				{#if seats.length > 1 && !show.setup.scenes.some(({ gathers }) => gathers)}
					<Button size="xs" hint={words.addGatheringHint} onclick={() => session.addGathering(words.gathering)}
						>{words.addGathering}</Button
					>
				{/if}
			</div>
		</div>
	</section>
	<GuestLinks eventId={session.eventId} guests={guests.length} />
</div>

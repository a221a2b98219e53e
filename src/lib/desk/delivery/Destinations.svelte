<script lang="ts">
	import { format } from 'date-fns';
	import { Checkbox } from 'flowbite-svelte';
	import { AnnotationOutline, EditOutline } from 'flowbite-svelte-icons';
	import type { SendFault } from '../../../core/delivery/send-fault.ts';
	import { hasAccount } from '../../../core/show/delivery/destination.ts';
	import type { Destination } from '../../../core/show/state.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import { delivery as words, rateOf, sendFaultWords } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import AddDestination from './AddDestination.svelte';
	import DestinationForm from './DestinationForm.svelte';
	import DetailsForm from './DetailsForm.svelte';
	import { phaseWord } from './phases.ts';
	import WatchForm from './WatchForm.svelte';

	const session = useDesk();
	const show = $derived(session.state);

	let formOpen = $state(false);
	let edited = $state.raw<Destination | null>(null);
	let addOpen = $state(false);
	let detailsOpen = $state(false);
	let watchOpen = $state(false);
	let told = $state.raw<Destination | null>(null);
	const statusOf = (id: string) => session.show.status?.destinations.find((status) => status.id === id);

	/** What came of the newest test of each. */
	let tests = $state.raw<Record<string, { at: number; problem: string | null } | 'running'>>({});
	const ticked = $derived(show.setup.destinations.filter((each) => each.ticked));
	const testing = $derived(Object.values(tests).includes('running'));

	async function testAll() {
		await Promise.all(ticked.map(({ id }) => test(id)));
	}
	async function test(id: string) {
		tests = { ...tests, [id]: 'running' };
		const path = `/api/events/${session.eventId}/destinations/${id}/test`;
		const told = await askServer<{ fault: SendFault | null }>(path, 'POST', {});
		const fault = 'problem' in told ? null : told.answer.fault;
		const problem = 'problem' in told ? told.problem : fault && sendFaultWords(fault);
		tests = { ...tests, [id]: { at: Date.now(), problem } };
	}

	function edit(
		destination: Destination | null,
		isWatch = destination?.watch !== undefined && destination.watch !== null,
	) {
		edited = destination;
		if (isWatch) watchOpen = true;
		else formOpen = true;
	}
</script>

<section class="panel" aria-labelledby="destinations">
	<h2 id="destinations" class="panel-title">{words.whereGoes}</h2>
	<ul class="grid grid-cols-[minmax(0,1fr)]">
		{#each show.setup.destinations as destination (destination.id)}
			{@const status = statusOf(destination.id)}
			<li class="flex items-start gap-1.5 border-t border-slate-rule py-1.5 pr-1.5 pl-3">
				<Checkbox
					class="mt-1 size-5 rounded-sm border-gray-400 bg-gray-700 text-primary-700"
					aria-label={words.send(destination.name)}
					checked={destination.ticked}
					disabled={session.isOnAir}
					title={session.isOnAir ? words.canChangedWhenOffAir : ''}
					onchange={() =>
						session.do({ type: 'tickDestination', destinationId: destination.id, ticked: !destination.ticked })}
				/>
				<div class="min-w-0 flex-1">
					<p class="truncate font-semibold">{destination.name}</p>
					<p class="figures text-xs text-gray-300">
						{#if status?.phase === 'live'}
							{words.live(rateOf(status.rateKbps))}
							{#if session.isRehearsing}
								<a
									class="block underline"
									href="/events/{session.eventId}/rehearsal/{destination.id}"
									target="_blank"
									rel="noreferrer">{words.watchRehearsal}</a
								>
							{/if}
							{#if status.audience?.public === false}
								<span class="block text-lamp">{words.notPublicYet}</span>
							{:else if status.audience}
								<span class="block">{words.watching(status.audience.viewers)}</span>
							{/if}
						{:else if !destination.hasKey}
							<span class="text-lamp">{words.noKeyYet}</span>
						{:else if destination.ticked}
							{phaseWord(status, session.isOnAir)}
						{:else}
							{words.notEvent}
						{/if}
					</p>
					{#if tests[destination.id] && !session.isOnAir}
						{@const tested = tests[destination.id]!}
						<p class="text-xs" role="status">
							{#if tested === 'running'}
								{words.askingHost}
							{:else if tested.problem === null}
								{words.acceptsStream(format(tested.at, 'HH:mm'))}
							{:else}
								<span class="text-lamp">▲ {tested.problem}</span>
							{/if}
						</p>
					{/if}
				</div>
				{#if hasAccount(destination) || destination.watch}
					<Button
						look="bare"
						class="p-0.5 text-gray-300 hover:text-lamp"
						aria-label={words.detailsViewersAt(destination.name)}
						hint={words.titleDescriptionWhoMaySee}
						onclick={() => {
							told = destination;
							detailsOpen = true;
						}}
					>
						<AnnotationOutline class="size-5" />
					</Button>
				{/if}
				<Button
					look="bare"
					class="p-0.5 text-gray-300 hover:text-lamp"
					aria-label={words.change(destination.name)}
					onclick={() => edit(destination)}
				>
					<EditOutline class="size-5" />
				</Button>
			</li>
		{:else}
			<li class="border-t border-slate-rule px-3 py-2 text-sm text-gray-300">
				{words.noDestinationYetAddHost}
			</li>
		{/each}
	</ul>
	<div class="m-2 grid grid-cols-[2fr_3fr] gap-1">
		<Button
			size="sm"
			class="col-span-2"
			disabled={session.isOnAir}
			hint={session.isOnAir ? words.canDoneWhenOffAir : ''}
			onclick={() => (addOpen = true)}>{words.addDestination}</Button
		>
		<Button
			size="sm"
			disabled={session.isOnAir || testing || ticked.length === 0}
			aria-label={words.testWithoutGoingOnAir}
			hint={words.asksEachTickedHostWhether}
			onclick={testAll}>{testing ? words.testing : words.test}</Button
		>
		<Button size="sm" onclick={() => session.sheet.editDelivery()}>{words.howSentMenu}</Button>
	</div>
</section>

<AddDestination bind:open={addOpen} onnew={() => edit(null)} onwatch={() => edit(null, true)} />
{#key told}{#if told}<DetailsForm destination={told} bind:open={detailsOpen} />{/if}{/key}
{#key edited}
	<DestinationForm destination={edited} bind:open={formOpen} />
	<WatchForm destination={edited} bind:open={watchOpen} />
{/key}

<script lang="ts">
	/** What viewers are told of this event at one host. */
	import { Helper, Modal } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import type { Destination, Details } from '../../../core/show/delivery/destination.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import Warning from '../../ui/Warning.svelte';
	import { delivery as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import DetailsFields, { detailsAsWritten } from './DetailsFields.svelte';

	interface Props {
		destination: Destination;
		open: boolean;
	}
	let { destination, open = $bindable() }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	let details = $state<Details>(untrack(() => destination.details ?? detailsAsWritten(show)));
	let problem = $state('');
	let busy = $state(false);

	async function send(event: SubmitEvent) {
		event.preventDefault();
		busy = true;
		const path = `/api/events/${session.eventId}/destinations/${destination.id}/details`;
		const result = await askServer(path, 'PUT', details);
		busy = false;
		problem = 'problem' in result ? result.problem : '';
		if (problem !== '') return;
		open = false;
		const { name, watch } = destination;
		session.notify(watch ? words.pageShows(name, details.title) : words.knowsGaveAddressKey(name, details.title));
	}
</script>

<Modal bind:open size="md" title={words.detailsViewersAt(destination.name)}>
	<form id="details-form" class="grid gap-3" onsubmit={send}>
		<DetailsFields
			eventId={session.eventId}
			bind:details
			takesPicture={destination.signed !== null || destination.watch !== null}
			asksWho={destination.watch === null}
		/>
		{#if destination.watch === null}<Helper>{words.hostAnswersWithAddressKey}</Helper>{/if}
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
	</form>
	{#snippet footer()}
		<Button look="main" form="details-form" disabled={busy || session.isOnAir}
			>{busy
				? words.sending
				: destination.watch
					? words.save
					: destination.details
						? words.sendHostAgain
						: words.sendHost}</Button
		>
		<Button onclick={() => (open = false)}>{words.cancel}</Button>
	{/snippet}
</Modal>

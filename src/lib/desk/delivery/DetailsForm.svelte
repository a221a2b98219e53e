<script lang="ts">
	/** What viewers are told of this event at one host. */
	import { Helper, Input, Label, Modal, Select, Textarea } from 'flowbite-svelte';
	import Button from '../../ui/Button.svelte';
	import { untrack } from 'svelte';
	import { VISIBILITIES, type Destination, type Details } from '../../../core/show/delivery/destination.ts';
	import { askServer } from '../../ui/ask.ts';
	import { useDesk } from '../context.ts';
	import Warning from '../../ui/Warning.svelte';

	interface Props {
		destination: Destination;
		open: boolean;
	}
	let { destination, open = $bindable() }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	const WORDS = {
		public: 'Everybody',
		unlisted: 'Everybody who has the link',
		private: 'Nobody but the owners of the account',
	} as const satisfies Record<Details['visibility'], string>;
	const start = untrack(() => destination.details);
	let title = $state(start?.title ?? untrack(() => show.setup.title));
	let description = $state(start?.description ?? '');
	let visibility = $state<Details['visibility']>(start?.visibility ?? 'public');
	let plannedAt = $state(start?.plannedAt ?? untrack(() => show.setup.startsAt));
	let problem = $state('');
	let busy = $state(false);

	async function send(event: SubmitEvent) {
		event.preventDefault();
		busy = true;
		const path = `/api/events/${session.eventId}/destinations/${destination.id}/details`;
		const result = await askServer(path, 'PUT', { title, description, visibility, plannedAt });
		busy = false;
		problem = 'problem' in result ? result.problem : '';
		if (problem !== '') return;
		open = false;
		session.notify(`${destination.name} knows of ${title}. It gave address and key for it.`);
	}
</script>

<Modal bind:open size="md" title="Details for viewers at {destination.name}">
	<form id="details-form" class="grid gap-3" onsubmit={send}>
		<Label>Title<Input bind:value={title} required maxlength={120} class="mt-1" /></Label>
		<Label>
			Description
			<Textarea bind:value={description} rows={3} maxlength={2000} class="mt-1 w-full dark:bg-gray-700" />
		</Label>
		<div class="grid grid-cols-2 gap-3">
			<Label>
				Who may see it
				<Select size="sm" placeholder="" class="mt-1" bind:value={visibility}>
					{#each VISIBILITIES as each (each)}<option value={each}>{WORDS[each]}</option>{/each}
				</Select>
			</Label>
			<Label>Starts<Input type="datetime-local" bind:value={plannedAt} class="mt-1" /></Label>
		</div>
		<Helper>The host answers with the address and the key for this broadcast; they are stored at once.</Helper>
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
	</form>
	{#snippet footer()}
		<Button look="main" form="details-form" disabled={busy || session.isOnAir}
			>{busy ? 'Sending…' : destination.details ? 'Send to the host again' : 'Send to the host'}</Button
		>
		<Button onclick={() => (open = false)}>Cancel</Button>
	{/snippet}
</Modal>

<script lang="ts">
	/** What viewers are told of this event at one host. */
	import { Helper, Input, Label, Modal, Textarea } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
	import type { Destination, Details } from '../../../core/show/delivery/destination.ts';
	import { filled } from '../../../core/show/event/fields.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import { TEXTAREA } from '../../ui/theme.ts';
	import Warning from '../../ui/Warning.svelte';
	import { delivery as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	interface Props {
		destination: Destination;
		open: boolean;
	}
	let { destination, open = $bindable() }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	const WORDS = {
		public: words.everybody,
		unlisted: words.everybodyWhoLink,
		private: words.nobodyButOwnersAccount,
	} as const satisfies Record<Details['visibility'], string>;
	const start = untrack(() => destination.details);
	/** What hosts are to be told, where nobody has told this one anything yet. */
	const asWritten = untrack(() => {
		const { title, hostTitle, hostDescription, fields } = show.setup;
		return { title: filled(hostTitle, fields) || title, description: filled(hostDescription, fields) };
	});
	let title = $state(start?.title ?? asWritten.title);
	let description = $state(start?.description ?? asWritten.description);
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
		session.notify(words.knowsGaveAddressKey(destination.name, title));
	}
</script>

<Modal bind:open size="md" title={words.detailsViewersAt(destination.name)}>
	<form id="details-form" class="grid gap-3" onsubmit={send}>
		<Label>{words.title}<Input bind:value={title} required maxlength={MOST_NAME_LETTERS} class="mt-1" /></Label>
		<Label>
			{words.description}
			<Textarea bind:value={description} rows={3} maxlength={2000} class="{TEXTAREA} mt-1" />
		</Label>
		<div class="grid grid-cols-2 gap-3">
			<Label>
				{words.whoMaySee}
				<ChoiceField
					class="mt-1"
					value={visibility}
					choices={choicesOf(WORDS)}
					onchange={(chosen) => (visibility = chosen)}
				/>
			</Label>
			<Label>{words.starts}<Input type="datetime-local" bind:value={plannedAt} class="mt-1" /></Label>
		</div>
		<Helper>{words.hostAnswersWithAddressKey}</Helper>
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
	</form>
	{#snippet footer()}
		<Button look="main" form="details-form" disabled={busy || session.isOnAir}
			>{busy ? words.sending : destination.details ? words.sendHostAgain : words.sendHost}</Button
		>
		<Button onclick={() => (open = false)}>{words.cancel}</Button>
	{/snippet}
</Modal>

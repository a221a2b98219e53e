<script lang="ts">
	/** A page of one's own on which viewers watch, new or to be changed. */
	import { Checkbox, Helper, Input, Label, Modal } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
	import type { Destination } from '../../../core/show/delivery/destination.ts';
	import { embedLine, type WatchPlace } from '../../../core/watch-page/place.ts';
	import { newId } from '../../show/new-id.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import CopyField from '../../ui/CopyField.svelte';
	import Warning from '../../ui/Warning.svelte';
	import { slugify } from '../../watch/slug.ts';
	import { delivery as deliveryWords, watch as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	interface Props {
		/** Null for a new one. */
		destination: Destination | null;
		open: boolean;
	}
	let { destination, open = $bindable() }: Props = $props();
	const session = useDesk();

	const start = untrack(() => destination);
	const ACCESS = { public: words.public, link: words.link, password: words.password } as const;
	/** Not to be guessed, where the address is all that is needed. */
	const unguessable = () => crypto.randomUUID().replaceAll('-', '').slice(0, 12);
	let name = $state(start?.name ?? words.namePlace);
	let place = $state<WatchPlace>(
		start?.watch
			? { ...start.watch }
			: {
					slug: untrack(() => slugify(session.state.setup.title)),
					access: 'public',
					captions: true,
					messages: false,
					recording: true,
				},
	);
	let password = $state('');
	let problem = $state('');
	let busy = $state(false);
	const address = $derived(new URL(`/watch/${place.slug}`, location.origin).href);

	function setAccess(access: WatchPlace['access']) {
		place.access = access;
		if (access === 'link' && !start) place.slug = unguessable();
	}

	async function save(event: SubmitEvent) {
		event.preventDefault();
		busy = true;
		const body = { id: start?.id ?? newId(), name, watch: place, password: password === '' ? null : password };
		const result = await askServer(`/api/events/${session.eventId}/destinations/watch`, 'PUT', body);
		busy = false;
		problem = 'problem' in result ? result.problem : '';
		if (problem === '') open = false;
	}

	function remove() {
		if (!destination) return;
		const { id: destinationId } = destination;
		open = false;
		session.doWithUndo({ type: 'removeDestination', destinationId }, deliveryWords.removed(name));
	}

	$effect(() => {
		if (!open) password = problem = '';
	});
</script>

<Modal bind:open size="md" title={destination ? words.change(destination.name) : words.add}>
	<form id="watch-form" class="grid gap-3" onsubmit={save} autocomplete="off">
		<Label>{words.name}<Input bind:value={name} required maxlength={MOST_NAME_LETTERS} class="mt-1" /></Label>
		<Label>
			{words.access}
			<ChoiceField class="mt-1" value={place.access} choices={choicesOf(ACCESS)} onchange={setAccess} />
		</Label>
		{#if place.access === 'password'}
			<Label>
				{words.passwordIs}
				<Input
					type="password"
					bind:value={password}
					class="mt-1"
					autocomplete="new-password"
					placeholder={start?.watch?.access === 'password' ? words.passwordStored : ''}
				/>
				<Helper class="mt-1">{words.passwordEmbed}</Helper>
			</Label>
		{/if}
		<Label>{words.slug}<Input bind:value={place.slug} required class="figures mt-1" maxlength={60} /></Label>
		<div class="grid gap-2">
			<Checkbox bind:checked={place.captions}>{words.captions}</Checkbox>
			<Checkbox bind:checked={place.messages}>{words.messages}</Checkbox>
			<Checkbox bind:checked={place.recording}>{words.recording}</Checkbox>
		</div>
		<CopyField label={words.address} value={address} />
		{#if place.access !== 'password'}<CopyField label={words.embed} value={embedLine(address, name)} />{/if}
		<Helper>{words.costs}</Helper>
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
	</form>
	{#snippet footer()}
		<Button look="main" form="watch-form" disabled={busy}>{busy ? words.saving : words.save}</Button>
		<Button onclick={() => (open = false)}>{words.cancel}</Button>
		{#if destination}<Button class="ml-auto" onclick={remove} disabled={session.isOnAir}>{words.remove}</Button>{/if}
	{/snippet}
</Modal>

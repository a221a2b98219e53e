<script lang="ts">
	/** A new destination: one the organisation has used before, a place of a host's account, or any address with a key. */
	import { Input, Label, Modal } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import type { SignInTold } from '../../../core/hosts/sign-in.ts';
	import type { SavedDestination } from '../../../core/show/state.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import Warning from '../../ui/Warning.svelte';
	import { delivery as words, watch as watchWords } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import { listFrom } from './list-from.ts';
	import SignedHosts from './SignedHosts.svelte';

	interface Props {
		open: boolean;
		/** Another one is wanted, by address and key. */
		onnew: () => void;
		/** A page of one's own is wanted. */
		onwatch: () => void;
	}
	let { open = $bindable(), onnew, onwatch }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	interface Place {
		id: string;
		name: string;
		maxHeight: number | null;
		maxKbps: number | null;
	}
	let saved = $state.raw<SavedDestination[]>([]);
	let url = $state('');
	let token = $state('');
	let places = $state.raw<Place[] | null>(null);
	let problem = $state('');
	let busy = $state(false);
	/** The one that is forgotten at the next press. */
	let forgetting = $state('');
	const others = $derived(saved.filter(({ id }) => !show.setup.destinations.some((each) => each.id === id)));

	/** Null until the server has told what it knows: the dialog shows itself whole, so that nothing moves away under the finger. */
	let hosts = $state.raw<SignInTold[] | null>(null);

	$effect(() => {
		if (open) void load();
		// What was typed is not kept in a closed dialog: an access code must not wait there.
		else {
			token = problem = forgetting = '';
			places = hosts = null;
		}
	});

	async function load() {
		const [known] = await Promise.all([listFrom<{ hosts: SignInTold[] }>('/api/hosts'), loadSaved()]);
		if (open) hosts = known?.hosts ?? [];
	}
	async function loadSaved() {
		const told = await listFrom<{ destinations: SavedDestination[] }>('/api/destinations');
		saved = told?.destinations ?? saved;
	}
	async function attach({ id: destinationId }: SavedDestination) {
		const result = await askServer(`/api/events/${session.eventId}/destinations`, 'POST', { destinationId });
		problem = 'problem' in result ? result.problem : '';
		if (problem === '') open = false;
	}
	async function forget(id: string) {
		if (forgetting !== id) {
			forgetting = id;
			return;
		}
		const result = await askServer(`/api/destinations/${id}`, 'DELETE', {});
		problem = 'problem' in result ? result.problem : '';
		await loadSaved();
	}
	async function list() {
		busy = true;
		const result = await askServer<{ places: Place[] }>('/api/accounts', 'POST', { url, token });
		busy = false;
		problem = 'problem' in result ? result.problem : '';
		if ('answer' in result) places = result.answer.places;
	}
	async function connect(placeId: string) {
		busy = true;
		const result = await askServer(`/api/events/${session.eventId}/destinations/connect`, 'POST', {
			url,
			token,
			placeId,
		});
		busy = false;
		problem = 'problem' in result ? result.problem : '';
		if (problem === '') open = false;
	}
</script>

<Modal bind:open size="md" title={words.addDestination}>
	{#if hosts}{@render ways(hosts)}{:else}<p>{words.lookingUpHosts}</p>{/if}
</Modal>

{#snippet ways(hosts: SignInTold[])}
	<div class="grid gap-4 text-gray-900 dark:text-paper">
		{#if others.length > 0}
			<section class="grid gap-1" aria-labelledby="used-before">
				<h3 id="used-before" class="font-semibold">{words.usedBefore}</h3>
				<ul class="grid gap-1">
					{#each others as destination (destination.id)}
						<li class="flex items-center gap-2">
							<Button class="min-w-0 flex-1 truncate text-left" onclick={() => void attach(destination)}
								>{destination.name}
								<span class="figures pl-2 text-xs font-normal text-gray-300"
									>{destination.watch ? `/watch/${destination.watch.slug}` : destination.address}</span
								></Button
							>
							<Button
								class="flex items-center gap-1"
								aria-label={forgetting === destination.id
									? words.forgetKeyGood(destination.name)
									: words.forget(destination.name)}
								onclick={() => void forget(destination.id)}
							>
								<TrashBinOutline class="size-4" />{#if forgetting === destination.id}{words.alsoDeleteKey}{/if}
							</Button>
						</li>
					{/each}
				</ul>
			</section>
		{/if}
		<section class="grid gap-2" aria-labelledby="any-host">
			<h3 id="any-host" class="font-semibold">{words.anyHostByAddressKey}</h3>
			<Button
				look="main"
				class="justify-self-start"
				onclick={() => {
					open = false;
					onnew();
				}}>{words.enterAddressKey}</Button
			>
		</section>
		{#if open}<SignedHosts first={hosts} />{/if}
		<section class="grid gap-2" aria-labelledby="own-page">
			<h3 id="own-page" class="font-semibold">{watchWords.heading}</h3>
			<p class="text-sm text-gray-600 dark:text-gray-300">{watchWords.is}</p>
			<Button
				class="justify-self-start"
				onclick={() => {
					open = false;
					onwatch();
				}}>{watchWords.add}</Button
			>
		</section>
		<section class="grid gap-2" aria-labelledby="by-account">
			<h3 id="by-account" class="font-semibold">{words.hostsAccount}</h3>
			<p class="text-sm text-gray-600 dark:text-gray-300">
				{words.thenHostGivesWeeksKey}
			</p>
			<form
				class="grid grid-cols-[3fr_2fr_auto] items-end gap-2"
				autocomplete="off"
				onsubmit={(event) => {
					event.preventDefault();
					void list();
				}}
			>
				<Label>
					{words.addressAccount}
					<Input bind:value={url} required class="figures mt-1" placeholder="https://host.example/account" />
				</Label>
				<Label>
					{words.accessCode}
					<Input type="password" bind:value={token} required class="mt-1" autocomplete="off" />
				</Label>
				<Button type="submit" disabled={busy}>{busy ? words.connecting : words.connect}</Button>
			</form>
			{#if places}
				<ul class="grid gap-1" aria-label={words.placesAccount}>
					{#each places as { id, name, maxHeight, maxKbps } (id)}
						<li>
							<Button class="w-full text-left" disabled={busy} onclick={() => void connect(id)}
								>{words.add(name)}
								<span class="figures pl-2 text-xs font-normal text-gray-300"
									>{[maxHeight && words.linesHigh(maxHeight), maxKbps && words.mbitS(maxKbps / 1000)]
										.filter(Boolean)
										.join(', ')}</span
								></Button
							>
						</li>
					{:else}
						<li>{words.accountNoPlaceStream}</li>
					{/each}
				</ul>
			{/if}
		</section>
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
	</div>
{/snippet}

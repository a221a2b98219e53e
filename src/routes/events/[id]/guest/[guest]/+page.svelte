<script lang="ts">
	import { page } from '$app/state';
	import GuestPage from '$lib/guest/GuestPage.svelte';
	import { guest as words } from '$lib/words/index.ts';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
	const { eventId, guestId, title, name } = $derived(data);
	const isPhone = $derived(page.url.searchParams.has('camera'));
	const standIn = $derived(page.url.searchParams.get('standIn'));
</script>

<svelte:head><title>{words.pageTitle(title)}</title></svelte:head>

{#key guestId}
	{#if isPhone}
		{#await import('$lib/guest/PhonePage.svelte') then { default: PhonePage }}
			<PhonePage {eventId} {guestId} {title} {name} />
		{/await}
	{:else if standIn === null}
		<GuestPage {eventId} {guestId} {title} {name} />
	{:else}
		{#await import('$lib/guest/StandInGuestPage.svelte') then { default: StandInGuestPage }}
			<StandInGuestPage {eventId} {guestId} {title} {name} {standIn} />
		{/await}
	{/if}
{/key}

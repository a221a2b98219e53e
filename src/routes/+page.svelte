<script lang="ts">
	import { mayUse } from '$core/access/policy.ts';
	import HomePage from '$lib/plan/HomePage.svelte';
	import type { PageProps } from './$types';
	import { access, guideWords, pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();

	const role = $derived(data.me?.role ?? null);
	/** Events are made by who may do so for the whole organisation. */
	const mayMake = $derived(mayUse(data.me?.roleOfAll ?? null, '/api/events', 'POST'));
	const mayExchange = $derived(mayUse(data.me?.roleOfAll ?? null, '/api/export', 'POST'));
	const links = $derived(
		(
			[
				['/media', words.toMedia],
				['/songs', words.toSongs],
				['/people', access.people],
				['/me', access.me],
				['/guide/first-event', guideWords.help],
			] as const
		).filter(([href]) => mayUse(role, href.replace(/^\/guide\/.*/, '/guide/[page]'), 'GET')),
	);
</script>

<svelte:head><title>{words.events}</title></svelte:head>

<main class="mx-auto grid max-w-6xl grid-cols-1 gap-6 p-4 sm:p-8 md:grid-cols-[minmax(0,1fr)_22rem] md:gap-10">
	<header class="md:col-span-2">
		<h1 class="text-3xl font-bold">{words.bivvo}</h1>
		<p class="mt-1 text-lg text-gray-600">{words.whatItIs}</p>
		<nav class="mt-2 flex flex-wrap gap-x-4">
			{#each links as [href, name] (href)}
				<a class="inline-block min-h-6 underline" {href}>{name}</a>
			{/each}
		</nav>
	</header>
	<HomePage events={data.events} next={data.next} templates={data.templates} now={data.now} {mayMake} {mayExchange} />
</main>

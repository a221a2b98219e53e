<script lang="ts">
	import EventForm from '$lib/plan/EventForm.svelte';
	import EventList from '$lib/plan/EventList.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>{words.events}</title></svelte:head>

<main class="mx-auto grid max-w-5xl gap-10 p-8 md:grid-cols-[1fr_20rem]">
	<header class="md:col-span-2">
		<h1 class="text-3xl font-bold">{words.bivvo}</h1>
		<p class="mt-1 text-lg text-gray-600">{words.whatItIs}</p>
	</header>
	<EventList events={data.events} />
	<EventForm {form} />
</main>

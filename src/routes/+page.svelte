<script lang="ts">
	import EventForm from '$lib/plan/EventForm.svelte';
	import EventList from '$lib/plan/EventList.svelte';
	import type { PageProps } from './$types';

	let { data, form }: PageProps = $props();
</script>

<svelte:head><title>Events · Bivvo</title></svelte:head>

<main class="mx-auto grid max-w-5xl gap-10 p-8 md:grid-cols-[1fr_20rem]">
	<header class="md:col-span-2">
		<h1 class="text-3xl font-bold">Bivvo</h1>
		<p class="mt-1 text-lg text-gray-600">
			Cameras and sound of an evening, switched and sent to those who could not come.
		</p>
	</header>
	<EventList events={data.events} />
	<EventForm {form} />
</main>

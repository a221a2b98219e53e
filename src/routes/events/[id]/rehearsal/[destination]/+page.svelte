<script lang="ts">
	import RehearsalPage from '$lib/rehearsal/RehearsalPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{data.title} · Rehearsal for {data.destination.name}</title></svelte:head>

<RehearsalPage eventId={data.eventId} title={data.title} destination={data.destination} />

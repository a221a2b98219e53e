<script lang="ts">
	import RehearsalPage from '$lib/rehearsal/RehearsalPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.rehearsal(data.title, data.destination.name)}</title></svelte:head>

<RehearsalPage eventId={data.eventId} title={data.title} destination={data.destination} />

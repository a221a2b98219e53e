<script lang="ts">
	import MixPage from '$lib/mix/MixPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{data.title} · Stream mix</title></svelte:head>

{#key data.eventId}<MixPage eventId={data.eventId} loudness={data.loudness} />{/key}

<script lang="ts">
	import MixPage from '$lib/mix/MixPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.mix(data.title)}</title></svelte:head>

{#key data.eventId}<MixPage eventId={data.eventId} loudness={data.loudness} />{/key}

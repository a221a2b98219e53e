<script lang="ts">
	import TallyPage from '$lib/tally/TallyPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.tally(data.title)}</title></svelte:head>

{#key data.eventId}<TallyPage eventId={data.eventId} />{/key}

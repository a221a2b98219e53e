<script lang="ts">
	import HallPage from '$lib/hall/HallPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.hall(data.title)}</title></svelte:head>

{#key data.eventId}<HallPage eventId={data.eventId} />{/key}

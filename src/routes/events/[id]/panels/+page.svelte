<script lang="ts">
	import PanelsPage from '$lib/panel/PanelsPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.panels(data.title)}</title></svelte:head>

{#key data.eventId}<PanelsPage eventId={data.eventId} />{/key}

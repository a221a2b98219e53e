<script lang="ts">
	import SheetPage from '$lib/sheet/SheetPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.sheet(data.title)}</title></svelte:head>

{#key data.eventId}<SheetPage eventId={data.eventId} />{/key}

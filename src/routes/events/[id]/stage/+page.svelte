<script lang="ts">
	import StagePage from '$lib/hall/StagePage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.stage(data.title)}</title></svelte:head>

{#key data.eventId}<StagePage eventId={data.eventId} />{/key}

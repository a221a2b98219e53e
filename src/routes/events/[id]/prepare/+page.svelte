<script lang="ts">
	import PreparePage from '$lib/prepare/PreparePage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.prepare(data.title)}</title></svelte:head>

{#key data.eventId}<PreparePage eventId={data.eventId} />{/key}

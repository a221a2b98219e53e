<script lang="ts">
	import CheckPage from '$lib/check/CheckPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.check(data.title)}</title></svelte:head>

{#key data.eventId}<CheckPage eventId={data.eventId} />{/key}

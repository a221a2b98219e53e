<script lang="ts">
	import WordsPage from '$lib/singing/WordsPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.wordsOf(data.title)}</title></svelte:head>

{#key data.eventId}<WordsPage eventId={data.eventId} />{/key}

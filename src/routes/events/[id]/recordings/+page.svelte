<script lang="ts">
	import RecordingsPage from '$lib/recordings/RecordingsPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.recordings(data.title)}</title></svelte:head>

<RecordingsPage {...data} />

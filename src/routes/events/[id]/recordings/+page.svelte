<script lang="ts">
	import RecordingsPage from '$lib/recordings/RecordingsPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{data.title} · Recordings</title></svelte:head>

<RecordingsPage {...data} />

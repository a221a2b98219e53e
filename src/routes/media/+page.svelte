<script lang="ts">
	import MediaPage from '$lib/media/MediaPage.svelte';
	import { pages as words } from '$lib/words/index.ts';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.media}</title></svelte:head>

<MediaPage {...data} />

<script lang="ts">
	import SongsPage from '$lib/songs/SongsPage.svelte';
	import { pages as words } from '$lib/words/index.ts';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.songs}</title></svelte:head>

<SongsPage songs={data.songs} />

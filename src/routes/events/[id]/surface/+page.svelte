<script lang="ts">
	import DrawnSurface from '$lib/surface/DrawnSurface.svelte';
	import type { PageProps } from './$types';
	import { surface as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.drawnTitle(data.title)}</title></svelte:head>

{#key data.eventId}<DrawnSurface eventId={data.eventId} title={words.drawnTitle(data.title)} />{/key}

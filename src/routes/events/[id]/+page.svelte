<script lang="ts">
	import Desk from '$lib/desk/Desk.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.desk(data.title)}</title></svelte:head>

{#key data.eventId}<Desk eventId={data.eventId} canRehearse={data.canRehearse} />{/key}

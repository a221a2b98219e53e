<script lang="ts">
	import Desk from '$lib/desk/Desk.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{data.title} · Desk</title></svelte:head>

{#key data.eventId}<Desk eventId={data.eventId} canRehearse={data.canRehearse} />{/key}

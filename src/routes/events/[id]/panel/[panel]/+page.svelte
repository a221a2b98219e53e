<script lang="ts">
	import PanelPage from '$lib/panel/PanelPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.panel(data.name, data.title)}</title></svelte:head>

{#key `${data.eventId} ${data.panelId}`}<PanelPage eventId={data.eventId} panelId={data.panelId} />{/key}

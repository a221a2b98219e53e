<script lang="ts">
	import WatchPage from '$lib/watch/WatchPage.svelte';
	import script from '$lib/watch/watch.page.ts?worker&url';

	let { data } = $props();
</script>

<svelte:head>
	{#if data.told}
		<script type="module" src={script}></script>
	{/if}
</svelte:head>

<WatchPage slug={data.slug} isEmbedded={data.isEmbedded} asked={data.asked} told={data.told} />

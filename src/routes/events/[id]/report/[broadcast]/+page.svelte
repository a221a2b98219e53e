<script lang="ts">
	import ReportPage from '$lib/report/ReportPage.svelte';
	import type { PageProps } from './$types';
	import { pages as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.report(data.title)}</title></svelte:head>

<ReportPage {...data} />

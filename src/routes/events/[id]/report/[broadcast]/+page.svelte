<script lang="ts">
	import ReportPage from '$lib/report/ReportPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{data.title} · Report</title></svelte:head>

<ReportPage {...data} />

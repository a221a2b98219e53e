<script lang="ts">
	import AuditPage from '$lib/access/AuditPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<AuditPage lines={data.lines} older={data.older} />

<script lang="ts">
	import NodesPage from '$lib/nodes/NodesPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<NodesPage nodesAtFirst={data.nodes} />

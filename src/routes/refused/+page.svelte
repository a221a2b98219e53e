<script lang="ts">
	import RefusedPage from '$lib/access/RefusedPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<RefusedPage who={data.who} me={data.me} />

<script lang="ts">
	import MePage from '$lib/access/MePage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<MePage me={data.me} account={data.account} sessions={data.sessions} />

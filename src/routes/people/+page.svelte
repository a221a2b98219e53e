<script lang="ts">
	import PeoplePage from '$lib/access/PeoplePage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<PeoplePage {...data} />

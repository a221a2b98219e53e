<script lang="ts">
	import SetUpPage from '$lib/access/SetUpPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<SetUpPage isOpen={data.isOpen} />

<script lang="ts">
	import SignInPage from '$lib/access/SignInPage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<SignInPage to={data.to} />

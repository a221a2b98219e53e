<script lang="ts">
	import LinkPage from '$lib/access/LinkPage.svelte';
</script>

<LinkPage />

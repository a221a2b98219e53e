<script lang="ts">
	import PairPage from '$lib/access/PairPage.svelte';
</script>

<PairPage />

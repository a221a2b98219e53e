<script lang="ts">
	import BackFromHost from '$lib/hosts/BackFromHost.svelte';

	let { data } = $props();
</script>

<BackFromHost host={data.host} />

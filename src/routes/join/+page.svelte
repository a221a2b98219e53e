<script lang="ts">
	import JoinPage from '$lib/access/JoinPage.svelte';
</script>

<JoinPage />

<script lang="ts">
	import { page } from '$app/state';
	import Button from '$lib/ui/Button.svelte';
</script>

<main class="mx-auto max-w-xl p-8">
	<h1 class="mb-3 text-2xl font-bold">{page.error?.message ?? 'Something went wrong.'}</h1>
	<Button look="main" href="/">To the events</Button>
</main>

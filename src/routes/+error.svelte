<script lang="ts">
	import { page } from '$app/state';
	import Button from '$lib/ui/Button.svelte';
	import { pages as words } from '$lib/words/index.ts';
</script>

<svelte:head><title>{page.error?.message ?? words.somethingWentWrong} · Bivvo</title></svelte:head>

<main class="mx-auto max-w-xl p-8">
	<h1 class="mb-3 text-2xl font-bold">{page.error?.message ?? words.somethingWentWrong}</h1>
	<Button look="main" href="/">{words.toEvents}</Button>
</main>

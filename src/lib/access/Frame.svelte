<script lang="ts">
	/** A page with one thing to do, for people who are not in yet. */
	import { Card } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';

	interface Props {
		title: string;
		children: Snippet;
	}
	let { title, children }: Props = $props();
</script>

<svelte:head><title>{title}</title></svelte:head>

<main class="mx-auto grid min-h-dvh max-w-md content-center p-4">
	<Card class="gap-4 p-6">
		<h1 class="text-2xl font-bold">{title}</h1>
		{@render children()}
	</Card>
</main>

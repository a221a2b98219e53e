<script lang="ts">
	import '../app.css';
	import { ThemeProvider } from 'flowbite-svelte';
	import { onMount, tick } from 'svelte';
	import { page } from '$app/state';
	import { theme } from '$lib/ui/theme';
	let { children } = $props();

	/** What is done too early is kept until the page comes alive; a viewer's page has a script of its own only, and never does. */
	const comesAlive = $derived(page.route.id !== '/watch/[slug]');
	onMount(async () => {
		await tick();
		document.documentElement.dataset.alive = '';
		dispatchEvent(new Event('bivvo-alive'));
	});
</script>

<svelte:head>
	{#if comesAlive}<script src="/early.js"></script>{/if}
</svelte:head>

<ThemeProvider {theme}>{@render children()}</ThemeProvider>

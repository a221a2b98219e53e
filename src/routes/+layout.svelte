<script lang="ts">
	import '../app.css';
	import { ThemeProvider } from 'flowbite-svelte';
	import { onMount, tick } from 'svelte';
	import { page } from '$app/state';
	import { theme } from '$lib/ui/theme';
	let { children } = $props();

	/** A viewer's page has a program of its own only, which tells nobody that it has come. */
	const isAlive = $derived(page.route.id !== '/watch/[slug]');
	onMount(async () => {
		await tick();
		document.documentElement.dataset.alive = '';
		dispatchEvent(new Event('bivvo-alive'));
	});
</script>

<svelte:head>
	{#if isAlive}<script src="/early.js"></script>{/if}
</svelte:head>

<ThemeProvider {theme}>{@render children()}</ThemeProvider>

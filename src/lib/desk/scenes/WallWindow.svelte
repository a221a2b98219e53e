<script lang="ts">
	/** The wall in a window of its own, for a second screen. */
	import { ThemeProvider } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import Button from '../../ui/Button.svelte';
	import { theme } from '../../ui/theme.ts';
	import { scenes as words } from '../../words/index.ts';
	import { provideDesk } from '../context.ts';
	import type { DeskSession } from '../desk-session.svelte.ts';
	import Wall from './Wall.svelte';

	let { session, onfill }: { session: DeskSession; onfill: () => void } = $props();

	provideDesk(untrack(() => session));
</script>

<!-- The root layout's provider is in the other window. -->
<ThemeProvider {theme}>
	{#if session.show.state}
		<div class="grid h-screen place-items-center bg-ink p-2 text-paper">
			<Wall alone />
			<Button size="xs" class="fixed right-2 bottom-2 opacity-60 hover:opacity-100" onclick={onfill}
				>{words.fillScreen}</Button
			>
		</div>
	{/if}
</ThemeProvider>

<script lang="ts">
	/** The wall in a window of its own, for a second screen. */
	import Button from '../../ui/Button.svelte';
	import { ThemeProvider } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { theme } from '../../ui/theme.ts';
	import type { DeskSession } from '../desk-session.svelte.ts';
	import { provideDesk } from '../context.ts';
	import Wall from './Wall.svelte';
	import { scenes as words } from '../../words/index.ts';

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

<script lang="ts">
	/** The wall in a window of its own, for a second screen. */
	import { untrack } from 'svelte';
	import type { DeskSession } from '../desk-session.svelte.ts';
	import { provideDesk } from '../context.ts';
	import Wall from './Wall.svelte';

	let { session, onfill }: { session: DeskSession; onfill: () => void } = $props();

	provideDesk(untrack(() => session));
</script>

{#if session.show.state}
	<div class="grid h-screen place-items-center bg-ink p-2 text-paper">
		<Wall alone />
		<button class="act fixed right-2 bottom-2 px-2 py-1 text-xs opacity-60 hover:opacity-100" onclick={onfill}
			>Fill the screen</button
		>
	</div>
{/if}

<script lang="ts">
	/** A side sheet: takes the place of the mix while something is set up. */
	import type { Snippet } from 'svelte';
	import { ui as words } from '../words/index.ts';
	import Button from './Button.svelte';
	import { undoKey } from './undo-key.ts';

	interface Props {
		title: string;
		onclose: () => void;
		/** Goes back one change, where that can be done. */
		onundo?: () => void;
		children: Snippet;
	}
	let { title, onclose, onundo = () => undefined, children }: Props = $props();
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<section class="panel m-2 flex min-h-0 flex-col" aria-label={title} onkeydown={undoKey(() => onundo())}>
	<header class="flex items-center justify-between gap-2 border-b border-slate-rule p-2">
		<h2 class="truncate font-bold">{title}</h2>
		<Button look="main" size="sm" onclick={onclose}>{words.done}</Button>
	</header>
	<div class="min-h-0 flex-1 overflow-y-auto p-2 text-sm">{@render children()}</div>
</section>

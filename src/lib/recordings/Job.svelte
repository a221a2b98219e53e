<script lang="ts">
	/** How far a job of the worker has come, with the way to end it. */
	import { Progressbar } from 'flowbite-svelte';
	import Button from '../ui/Button.svelte';
	import { recordings as words } from '../words/index.ts';

	interface Props {
		what: string;
		/** 0 to 1. */
		part: number;
		oncancel: () => void;
	}
	let { what, part, oncancel }: Props = $props();
	const percent = $derived(Math.round(100 * part));
</script>

<div class="flex items-center gap-3" role="status">
	<span>{what}</span>
	<Progressbar class="flex-1" progress={percent} color="primary" size="h-3" aria-label={what} />
	<span class="figures w-12 text-right">{percent} %</span>
	<Button size="touch" onclick={oncancel}>{words.cancel}</Button>
</div>

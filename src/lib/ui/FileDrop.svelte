<script lang="ts">
	/** Where files are dropped or chosen, with what came of it. */
	import type { Snippet } from 'svelte';
	import FileButton from './FileButton.svelte';

	interface Props {
		/** On its button, and its name. */
		label: string;
		/** What a file may be, as of a file input. */
		accept: string;
		drop: string;
		/** Which files are understood. */
		hint: string;
		onchoose: (files: FileList) => void;
		children?: Snippet;
	}
	let { label, accept, drop, hint, onchoose, children }: Props = $props();
	let isOver = $state(false);
</script>

<section
	class="grid gap-2 rounded-sm border-2 border-dashed p-3 {isOver
		? 'border-primary-700 bg-gray-100 dark:bg-gray-700'
		: 'border-gray-400 dark:border-gray-500'}"
	aria-label={label}
	ondragover={(event) => {
		event.preventDefault();
		isOver = true;
	}}
	ondragleave={() => (isOver = false)}
	ondrop={(event) => {
		event.preventDefault();
		isOver = false;
		if (event.dataTransfer) onchoose(event.dataTransfer.files);
	}}
>
	<div class="flex flex-wrap items-center gap-3">
		<FileButton {label} {accept} {onchoose} />
		<span class="font-semibold">{drop}</span>
	</div>
	<p class="text-sm text-gray-600 dark:text-gray-300">{hint}</p>
	{@render children?.()}
</section>

<script lang="ts">
	/** Where files are dropped or chosen to be uploaded, with how far each has come. */
	import { Progressbar } from 'flowbite-svelte';
	import type { Media } from '../../core/media/media.ts';
	import Button from '../ui/Button.svelte';
	import FileDrop from '../ui/FileDrop.svelte';
	import Warning from '../ui/Warning.svelte';
	import { media as words } from '../words/index.ts';
	import type { MediaShelf } from './library.svelte.ts';

	interface Props {
		shelf: MediaShelf;
		folder?: string;
		/** Told when files are in the library. */
		onadded?: (files: Media[]) => void;
	}
	let { shelf, folder = '', onadded }: Props = $props();

	const ACCEPT = 'video/*,audio/*,image/png,image/jpeg,image/webp,image/svg+xml,.mkv,.mov,.mp4,.webm,.flac,.wav';
	const PHASES = { looking: words.looking, waiting: words.waiting, computing: words.computing } as const;

	async function add(files: FileList) {
		const added = await shelf.add([...files], folder);
		onadded?.(added);
	}
</script>

<FileDrop
	label={words.add}
	accept={ACCEPT}
	drop={words.drop}
	hint={words.dropHint}
	onchoose={(files) => void add(files)}
>
	{#each shelf.sending as { key, name, phase, part, problem, cancel } (key)}
		<div class="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-3" data-sending={name}>
			{#if phase === 'failed'}
				<Warning urgent>{problem}</Warning>
			{:else}
				<div>
					<p class="truncate text-sm" role="status">
						<strong>{name}</strong>, {phase === 'sending' ? words.sending(Math.floor(100 * part)) : PHASES[phase]}
					</p>
					<Progressbar progress={100 * part} size="h-2" />
				</div>
			{/if}
			<Button size="sm" aria-label={words.stopUpload(name)} onclick={cancel}
				>{phase === 'failed' ? words.close : words.stop}</Button
			>
		</div>
	{/each}
</FileDrop>

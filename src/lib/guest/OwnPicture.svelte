<script lang="ts">
	/** A guest as they know themselves, or why there is nothing to be seen. */
	import TrackVideo from '../ui/TrackVideo.svelte';
	import { guest as words } from '../words/index.ts';
	import { useGuest } from './context.ts';

	let { without }: { without: string } = $props();
	const session = useGuest();
</script>

<div class="aspect-video w-full overflow-hidden rounded-sm bg-black">
	{#if session.camera}
		{#key session.camera}
			<TrackVideo track={session.camera} label={words.yourPicture} mirrored class="size-full" />
		{/key}
	{:else}
		<p class="grid size-full place-content-center p-4 text-center text-paper" role="status">{without}</p>
	{/if}
</div>

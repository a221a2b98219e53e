<script lang="ts">
	/** The clips of an event: what each plays, and the way in for more of them. */
	import { roundMs } from '../../core/show/clips/clip.ts';
	import { isClip, type ClipSource } from '../../core/show/clips/source.ts';
	import { useDesk } from '../desk/context.ts';
	import { drag } from '../desk/pictures/drag.ts';
	import { MediaShelf } from '../media/library.svelte.ts';
	import MediaDrop from '../media/MediaDrop.svelte';
	import MediaPicker from '../media/MediaPicker.svelte';
	import Button from '../ui/Button.svelte';
	import Fold from '../ui/Fold.svelte';
	import Warning from '../ui/Warning.svelte';
	import { clockOf, prepare as words } from '../words/index.ts';

	const session = useDesk();
	const clips = $derived(session.state.setup.sources.filter(isClip));
	const shelf = new MediaShelf();
	$effect(() => {
		// Pictures and loudness of what came without a page are computed while there is time for it.
		void shelf.refresh().then(() => (session.isOnAir ? undefined : shelf.analyseMissing()));
		return () => shelf.close();
	});
	const hasPoster = (mediaId: string) => shelf.list.some(({ id, analysis }) => id === mediaId && analysis !== null);

	const about = (clip: ClipSource) =>
		[
			clockOf(roundMs(clip) / 1000),
			clip.items.length > 1 && words.reel(clip.items.length),
			clip.kind === 'soundClip' && words.soundOnly,
		]
			.filter((part) => part)
			.join(', ');
</script>

<section class="grid gap-2" aria-labelledby="clips">
	<h2 id="clips" class="flex items-baseline justify-between text-lg font-semibold">
		{words.clips}
		<a class="text-sm font-normal underline" href="/media" target="_blank" rel="noreferrer">{words.openLibrary}</a>
	</h2>
	<ul class="grid grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] gap-2">
		{#each clips as clip (clip.id)}
			<li
				class="panel grid min-w-0 cursor-grab"
				title={words.dragClip}
				draggable="true"
				data-clip={clip.id}
				ondragstart={(event) => drag(event, { is: 'source', id: clip.id })}
			>
				{#if clip.kind === 'clip' && !hasPoster(clip.items[0]!.mediaId)}
					<div class="aspect-video w-full bg-black"></div>
				{:else if clip.kind === 'clip'}
					<img
						class="aspect-video w-full bg-black object-contain"
						src="/api/media/{clip.items[0]!.mediaId}/poster"
						alt=""
						draggable="false"
					/>
				{/if}
				<div class="min-w-0 p-2">
					<Button
						look="bare"
						class="block max-w-full truncate font-semibold hover:text-lamp"
						aria-label={words.change(clip.name)}
						onclick={() => session.sheet.editSource(clip.id)}>{clip.name}</Button
					>
					<p class="figures text-xs text-gray-300">{about(clip)}</p>
				</div>
			</li>
		{:else}
			<li class="col-span-full text-gray-300">{words.noClip}</li>
		{/each}
	</ul>
	{#if shelf.problem}<Warning urgent>{shelf.problem}</Warning>{/if}
	<MediaDrop {shelf} onadded={(files) => files.forEach((file) => void session.addMedia(file.name, [file]))} />
	<Fold title={words.fromLibrary}>
		<MediaPicker onadd={(name, files) => void session.addMedia(name, files)} />
	</Fold>
</section>

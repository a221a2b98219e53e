<script lang="ts">
	/** One file of the library: what it is, what is proposed for it, and how it is played. */
	import { Checkbox, Input } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { proposalFor } from '../../core/media/analysis.ts';
	import type { Media } from '../../core/media/media.ts';
	import { peaksPath } from '../../core/sound/peaks.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesOf } from '../ui/choices.ts';
	import Fold from '../ui/Fold.svelte';
	import NameField from '../ui/NameField.svelte';
	import NumberField from '../ui/NumberField.svelte';
	import Warning from '../ui/Warning.svelte';
	import { bytesOf, clockOf, media as words } from '../words/index.ts';
	import { canPlay } from './inspect.ts';
	import type { MediaShelf } from './library.svelte.ts';
	import PlayedPart from './PlayedPart.svelte';

	interface Props {
		media: Media;
		shelf: MediaShelf;
		uses: readonly { eventId: string; title: string }[];
		/** What the organisation's events usually come to. */
		targetLufs: number;
	}
	let { media, shelf, uses, targetLufs }: Props = $props();

	const { about, analysis, settings } = $derived(media);
	const isStill = $derived(about.kind === 'still');
	const proposal = $derived(proposalFor(media, targetLufs));
	const proposed = $derived(
		[
			proposal.gainDb !== undefined && words.proposeGain(proposal.gainDb > 0 ? `+${proposal.gainDb}` : proposal.gainDb),
			proposal.inMs !== undefined && words.proposeIn(clockOf(proposal.inMs / 1000)),
			proposal.outMs !== undefined && words.proposeOut(clockOf(proposal.outMs! / 1000)),
		].filter((part) => part !== false),
	);
	const facts = $derived(
		[
			!isStill && clockOf(about.lengthMs / 1000),
			about.picture && `${about.picture.width} × ${about.picture.height}`,
			about.picture && about.picture.fps > 0 && words.frames(about.picture.fps),
			about.picture?.alpha && words.alpha,
			bytesOf(media.bytes),
		].filter((part) => part),
	);
	const soundFacts = $derived(
		!analysis
			? words.notComputed
			: analysis.loudness === null
				? words.silent
				: `${words.loudness(analysis.loudness)}, ${words.peak(analysis.truePeakDb ?? '−∞')}`,
	);
	let plays = $state(true);
	$effect(() => void (isStill || canPlay(about).then((can) => (plays = can))));
	const HEIGHT = 36;
</script>

<li
	class="grid content-start gap-2 overflow-hidden rounded-sm border border-gray-300 bg-white pb-3"
	data-media={media.id}
>
	{#if about.picture}
		{#if analysis || isStill}
			<img
				class="aspect-video w-full bg-ink object-contain"
				src="/api/media/{media.id}/poster?{settings.posterMs}"
				alt=""
			/>
		{:else}
			<div class="aspect-video w-full bg-ink"></div>
		{/if}
	{/if}
	{#if analysis && analysis.waveform.length > 0 && about.sound}
		<svg
			class="h-9 w-full bg-gray-100 text-primary-700"
			viewBox="0 0 {analysis.waveform.length} {HEIGHT}"
			preserveAspectRatio="none"
			aria-hidden="true"
		>
			<path
				d={peaksPath(
					analysis.waveform.map((height) => height / 100),
					HEIGHT,
				)}
				fill="currentColor"
			/>
		</svg>
	{/if}
	{#if analysis && analysis.thumbnails > 0}
		<img class="w-full" src="/api/media/{media.id}/strip?{media.addedAt}" alt="" />
	{/if}
	<div class="grid gap-1.5 px-3">
		<div class="flex items-center gap-1">
			<NameField
				class="font-semibold"
				label={words.name(media.name)}
				value={media.name}
				onchange={(name) => void shelf.rename(media, name)}
			/>
			<Button look="icon" aria-label={words.delete(media.name)} onclick={() => void shelf.remove(media)}
				><TrashBinOutline class="size-5" /></Button
			>
		</div>
		<p class="figures text-sm text-gray-600">{facts.join(', ')}</p>
		{#if about.sound}<p class="figures text-sm text-gray-600">{soundFacts}</p>{/if}
		<p class="text-sm text-gray-600">
			{uses.length > 0 ? words.used(uses.map(({ title }) => title).join(', ')) : words.notUsed}
		</p>
		{#if !plays}<Warning urgent>{words.notHere}</Warning>{/if}
		{#if proposed.length > 0}
			<p class="flex items-center justify-between gap-2 text-sm">
				<span><strong>{words.proposal}:</strong> {proposed.join(', ')}</span>
				<Button size="sm" onclick={() => void shelf.set(media, proposal)}>{words.accept}</Button>
			</p>
		{/if}
		<Fold title={words.details}>
			<Input
				size="sm"
				placeholder={words.folderPlace}
				aria-label={words.folderOf(media.name)}
				maxlength={120}
				value={media.folder}
				onchange={({ currentTarget }) => void shelf.move(media, currentTarget.value.trim())}
			/>
			{#if !isStill}
				<PlayedPart
					inMs={settings.inMs}
					outMs={settings.outMs ?? about.lengthMs}
					gainDb={settings.gainDb}
					lengthMs={about.lengthMs}
					onchange={({ outMs, ...part }) =>
						void shelf.set(media, {
							...part,
							...(outMs !== undefined && { outMs: outMs === about.lengthMs ? null : outMs }),
						})}
				/>
				<Checkbox checked={settings.repeats} onchange={() => void shelf.set(media, { repeats: !settings.repeats })}
					>{words.repeat}</Checkbox
				>
				{#if about.picture}
					<NumberField
						label={words.poster}
						min={0}
						max={about.lengthMs / 1000}
						step={0.1}
						unit={words.seconds}
						value={settings.posterMs / 1000}
						onchange={(value) => void shelf.setPoster(media, Math.round(value * 1000))}
					/>
					<ChoiceField
						label={words.ends}
						value={settings.ends}
						choices={choicesOf({ stand: words.stands, black: words.black })}
						onchange={(ends) => void shelf.set(media, { ends })}
					/>
				{/if}
			{/if}
		</Fold>
	</div>
</li>

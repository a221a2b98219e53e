<script lang="ts">
	/** One recording: play it, look through it, cut excerpts, download it. */
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import Fold from '../ui/Fold.svelte';
	import { saveFile } from '../ui/save.ts';
	import Warning from '../ui/Warning.svelte';
	import { clockOf } from '../words/index.ts';
	import { recordings as words } from '../words/index.ts';
	import ClipMaker from './ClipMaker.svelte';
	import Job from './Job.svelte';
	import Overview from './Overview.svelte';
	import { isOwn, type Recorded } from './recorded.ts';
	import { RunningJob } from './running-job.svelte.ts';
	import { stillOf } from './still.ts';
	import TalkMaker from './TalkMaker.svelte';

	interface Props {
		eventId: string;
		recorded: Recorded;
		/** Of the event. */
		title: string;
		/** An excerpt was made of it. */
		onexcerpt: () => Promise<void>;
	}
	let { eventId, recorded, title, onexcerpt }: Props = $props();

	const { durationS, markers, state: written, kind } = $derived(recorded);
	const running = $derived(written !== 'finished');
	const address = $derived(`/api/events/${eventId}/recordings/${recorded.id}`);
	const playedFrom = $derived(`${address}?${written}`);
	let player = $state<HTMLMediaElement | null>(null);
	let atS = $state(0);
	let fromS = $state<number | null>(null);
	let toS = $state<number | null>(null);
	const part = $derived({ fromS: fromS ?? 0, toS: toS ?? durationS });
	const chosen = $derived((fromS !== null || toS !== null) && part.fromS < part.toS);
	let busy = $state('');
	const job = new RunningJob();
	let clips = $state(false);
	let talks = $state(false);
	const isBusy = $derived(busy !== '' || job.what !== '');
	const video = $derived(kind === 'channel' ? null : (player as HTMLVideoElement | null));
	let problem = $state('');

	function seek(seconds: number) {
		if (player) player.currentTime = seconds;
	}
	async function settle(result: { answer: unknown } | { problem: string }) {
		problem = 'problem' in result ? result.problem : '';
		if (problem === '') {
			fromS = toS = null;
			await onexcerpt();
		}
		busy = '';
	}
	async function cutAtOnce() {
		busy = words.cuttingExcerpt;
		await settle(await askServer(`${address}/excerpt`, 'POST', part));
	}
	const url = () => new URL(address, location.href).href;
	async function cutExactly() {
		const file = await job.run(words.encodingExcerpt, { job: 'cut', url: url(), ...part });
		if (!file) return;
		busy = words.storingExcerpt;
		const query = new URLSearchParams({ fromS: String(part.fromS), toS: String(part.toS) });
		const response = await fetch(`${address}/exact?${query}`, { method: 'POST', body: file }).catch(() => null);
		const result = (await response?.json().catch(() => null)) as { message?: string } | null;
		await settle(response?.ok ? { answer: result } : { problem: result?.message ?? words.serverUnreachable });
	}
	async function saveSound() {
		const file = await job.run(words.extractingSound, { job: 'sound', url: url() });
		if (!file) return;
		saveFile(recorded.file.replace(/\.\w+$/, '.wav'), file, 'audio/wav');
	}
	async function saveStill() {
		const still = video && (await stillOf(video, 'image/png'));
		if (still) saveFile(recorded.file.replace(/\.\w+$/, `-${Math.round(atS)}s.png`), still, 'image/png');
	}
</script>

<section class="grid gap-4 lg:grid-cols-[minmax(0,1fr)_18rem]" aria-label={words.chosenRecording}>
	<div class="grid content-start gap-3">
		<!--
			The finished file is another one than that which was read while it was written. Browsers keep what they have read of
			an address for a while, so it has one of its own; its place is kept.
		-->
		{#key written}
			{#if kind === 'channel'}
				<audio bind:this={player} bind:currentTime={atS} class="w-full" controls preload="metadata" src={playedFrom}
				></audio>
			{:else}
				<video
					bind:this={player}
					bind:currentTime={atS}
					class="max-h-[26rem] w-full bg-ink"
					controls
					preload="metadata"
					src={playedFrom}
				>
					<track kind="captions" label={words.takesMarkers} src="{address}/chapters" />
				</video>
			{/if}
		{/key}
		{#if !running && durationS > 0}
			<Overview url={address} {durationS} {markers} {atS} {fromS} {toS} onseek={seek} />
		{/if}
		{#if kind !== 'channel' && !isOwn(recorded)}
			<div class="flex flex-wrap items-center gap-2">
				<Button size="touch" onclick={() => (fromS = player?.currentTime ?? 0)}
					>{fromS === null ? words.excerptFromHere : words.excerptFrom(clockOf(fromS))}</Button
				>
				<Button size="touch" onclick={() => (toS = player?.currentTime ?? durationS)}
					>{toS === null ? words.toHere : words.excerptTo(clockOf(toS))}</Button
				>
				<Button
					look="main"
					size="touch"
					disabled={isBusy || running || !chosen}
					hint={words.atOnceFromKeyFrame}
					onclick={() => void cutAtOnce()}>{words.cutExcerpt}</Button
				>
				<Button
					size="touch"
					disabled={isBusy || running || !chosen}
					hint={words.frameEncodesAnewInBrowser}
					onclick={() => void cutExactly()}>{words.cutExactly}</Button
				>
				<span class="text-sm text-gray-600">{words.atOnceMayBeginUp}</span>
			</div>
		{/if}
		{#if job.what !== ''}
			<Job what={job.what} part={job.part} oncancel={() => job.cancel()} />
		{:else if busy}
			<p role="status">{busy}</p>
		{/if}
		{#if problem || job.problem}<Warning urgent>{problem || job.problem}</Warning>{/if}
		<div class="flex flex-wrap items-center gap-x-5 gap-y-2">
			<a class="underline" href="{address}?download">{words.download}</a>
			{#if video}
				<Button look="bare" class="underline" onclick={() => void saveStill()}>{words.still}</Button>
			{/if}
			{#if kind === 'program' || kind === 'excerpt'}
				<a class="underline" href="{address}/sound">{words.soundOnlyM4a}</a>
				<Button look="bare" class="underline" disabled={isBusy || running} onclick={() => void saveSound()}
					>{words.soundOnlyWav}</Button
				>
			{/if}
			<a class="underline" href="{address}/chapters">{words.chaptersWebvtt}</a>
			<a class="underline" href="{address}/log">{words.whatHappenedCsv}</a>
			{#if kind === 'program'}
				<a class="underline" href="/events/{eventId}/report/{recorded.broadcastId}">{words.reportBroadcast}</a>
			{/if}
		</div>
	</div>
	{#if !running}
		<div class="grid gap-2 lg:col-span-2 lg:row-start-2">
			{#if video}
				<Fold title={words.clipHeading} bind:open={clips}>
					<p class="mb-3 text-sm text-gray-600">{words.clipIs}</p>
					{#if clips}
						<ClipMaker url={address} file={recorded.file} player={video} {atS} part={chosen ? part : null} />
					{/if}
				</Fold>
			{/if}
			<Fold title={words.talkHeading} bind:open={talks}>
				{#if talks}<TalkMaker url={address} file={recorded.file} {title} player={video} {part} />{/if}
			</Fold>
		</div>
	{/if}
	<section aria-labelledby="moments">
		<h2 id="moments" class="mb-1 font-semibold">{words.takesMarkers}</h2>
		<ol class="grid max-h-[26rem] overflow-y-auto rounded-sm border border-gray-300 bg-white">
			{#each markers as { atS: markedS, kind: marked, text }, i (i)}
				<li>
					<Button
						look="bare"
						class="flex w-full gap-3 px-3 py-2 text-left hover:bg-gray-100 {marked === 'marker' ? 'font-bold' : ''}"
						onclick={() => seek(markedS)}
						><span class="figures">{clockOf(markedS)}</span><span class="min-w-0 truncate"
							>{marked === 'marker' ? '◆ ' : ''}{text}</span
						></Button
					>
				</li>
			{:else}
				<li class="p-3 text-gray-600">{words.noneKeyMOnDesk}</li>
			{/each}
		</ol>
	</section>
</section>

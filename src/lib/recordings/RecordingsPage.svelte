<script lang="ts">
	/** What was recorded of an event: played, cut, taken away, deleted. */
	import { format } from 'date-fns';
	import { Alert } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import EventNav from '../ui/EventNav.svelte';
	import Fold from '../ui/Fold.svelte';
	import Warning from '../ui/Warning.svelte';
	import { bytesOf, clockOf } from '../words/index.ts';
	import { recordings as words } from '../words/index.ts';
	import { asOne, isBeside, type Recorded } from './recorded.ts';
	import RecordingStage from './RecordingStage.svelte';
	import { invalidateAll } from '$app/navigation';

	interface Props {
		eventId: string;
		title: string;
		recordings: Recorded[];
	}
	let { eventId, title, recordings }: Props = $props();

	const whole = $derived(recordings.filter((each) => !isBeside(each)));
	/** The newest at first; what is added later does not take its place. */
	let chosenId = $state(untrack(() => whole.find(({ missing }) => !missing)?.id ?? null));
	const chosen = $derived(recordings.find(({ id }) => id === chosenId) ?? whole[0] ?? recordings[0] ?? null);
	/** What was recorded beside a program. A set whose program was deleted stands for itself. */
	const isolatedOf = (id: string) => recordings.filter((each) => each.set === id && isBeside(each));
	const alone = $derived(recordings.filter((each) => isBeside(each) && !recordings.some(({ id }) => id === each.set)));
	const REFRESH_MS = 3000;
	const anyRunning = $derived(recordings.some(({ state }) => state !== 'finished'));
	$effect(() => {
		if (!anyRunning) return;
		const timer = setInterval(() => void invalidateAll(), REFRESH_MS);
		return () => clearInterval(timer);
	});
	let problem = $state('');
	let deleted = $state<Recorded | null>(null);

	async function setDeleted({ id }: Recorded, to: boolean): Promise<boolean> {
		const result = await askServer(`/api/events/${eventId}/recordings/${id}`, 'PATCH', { deleted: to });
		problem = 'problem' in result ? result.problem : '';
		if (problem === '') await invalidateAll();
		return problem === '';
	}
	async function remove(recorded: Recorded) {
		if (await setDeleted(recorded, true)) deleted = recorded;
	}
	async function bringBack() {
		if (deleted && (await setDeleted(deleted, false))) deleted = null;
	}
</script>

{#snippet line(recorded: Recorded, isIsolated: boolean)}
	<div class="flex flex-wrap items-center gap-4 {isIsolated ? 'border-t border-gray-200 py-1 pl-6' : ''}">
		<Button
			look="bare"
			class="min-h-11 min-w-0 flex-1 text-left {isIsolated ? '' : 'font-semibold'}"
			disabled={recorded.missing}
			aria-current={recorded.id === chosen?.id}
			onclick={() => (chosenId = recorded.id)}
		>
			{#if isIsolated}
				{words.beside[recorded.kind](recorded.name)}
			{:else}
				{format(recorded.startedAt, 'EEEE d MMMM, HH:mm:ss')}
			{/if}
			<span class="block truncate text-sm font-normal text-gray-600"
				>{recorded.kind === 'excerpt' ? words.excerpt : ''}{recorded.file}</span
			>
		</Button>
		<span class="figures">{clockOf(recorded.durationS)}</span>
		<span class="figures w-20 text-right">{bytesOf(recorded.bytes)}</span>
		{#if recorded.state === 'recording'}<strong>{words.recordingNow}</strong>
		{:else if recorded.state === 'finishing'}<strong>{words.beingFinished}</strong>
		{:else if recorded.state === 'elsewhere'}<strong>{words.onAnotherNode}</strong>
		{:else if recorded.missing}<strong>{words.fileGone}</strong>
		{:else}
			<Button size="touch" onclick={() => void remove(recorded)}>{words.deleteIt}</Button>
		{/if}
	</div>
{/snippet}

<main class="mx-auto grid max-w-6xl gap-6 p-6">
	<header class="grid gap-1">
		<EventNav {eventId} here="recordings" {title} />
		<h1 class="text-2xl font-bold">{words.recordings(title)}</h1>
	</header>
	{#if deleted}
		<Alert role="status" class="flex items-center gap-4 border border-gray-300 bg-white p-3">
			{words.recordingDeletedFileKeptDay(format(deleted.startedAt, 'd MMM, HH:mm'))}
			<Button size="sm" onclick={bringBack}>{words.undo}</Button>
		</Alert>
	{/if}
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	{#if recordings.length === 0}
		<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">
			{words.nothingRecordedYetProgramRecorded}
		</p>
	{/if}
	{#if chosen}
		{#key chosen.id}<RecordingStage {eventId} {title} recorded={chosen} onexcerpt={invalidateAll} />{/key}
	{/if}
	{#if recordings.length > 0}
		<section aria-labelledby="all">
			<h2 id="all" class="mb-2 text-lg font-semibold">{words.allRecordings}</h2>
			<ul class="grid gap-2">
				{#each asOne([...whole, ...alone]) as files (files[0]!.id)}
					<li
						class="rounded-sm border bg-white p-3 {files.some(({ id }) => id === chosen?.id)
							? 'border-2 border-ink'
							: 'border-gray-300'}"
					>
						{#if files.length > 1}
							<p class="flex flex-wrap gap-4 pb-2 font-semibold">
								<span class="flex-1">{words.inFiles(format(files[0]!.startedAt, 'EEEE d MMMM'), files.length)}</span>
								<span class="figures">{clockOf(files.reduce((sum, { durationS }) => sum + durationS, 0))}</span>
							</p>
						{/if}
						{#each files as recorded (recorded.id)}
							{@const isolated = isolatedOf(recorded.id)}
							{@render line(recorded, false)}
							{#if isolated.length > 0}
								<Fold
									title={words.recordedSeparatelyStartingAtSame(isolated.length)}
									open={isolated.some(({ id }) => id === chosen?.id)}
								>
									{#each isolated as each (each.id)}{@render line(each, true)}{/each}
								</Fold>
							{/if}
						{/each}
					</li>
				{/each}
			</ul>
		</section>
	{/if}
</main>

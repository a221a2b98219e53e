<script lang="ts">
	/** What was recorded of an event: played, cut, taken away, deleted. */
	import { invalidateAll } from '$app/navigation';
	import { format } from 'date-fns';
	import type { Marker } from '../../core/show/chapters.ts';
	import { bytesOf, clockOf } from '../ui/format.ts';

	interface Recorded {
		id: string;
		startedAt: number;
		running: boolean;
		durationS: number;
		file: string;
		bytes: number;
		missing: boolean;
		kind: 'program' | 'source' | 'channel' | 'clip';
		/** What was recorded apart: the name of the source or channel. */
		name: string;
		/** Recordings with the same one began at the same instant. */
		set: string;
		markers: Marker[];
	}
	interface Props {
		eventId: string;
		title: string;
		recordings: Recorded[];
	}
	let { eventId, title, recordings }: Props = $props();

	let chosenId = $state<string | null>(null);
	const chosen = $derived(
		recordings.find(({ id }) => id === chosenId) ?? recordings.find(({ missing }) => !missing) ?? null,
	);
	let player = $state<HTMLVideoElement | null>(null);
	let fromS = $state<number | null>(null);
	let toS = $state<number | null>(null);
	let busy = $state('');
	let problem = $state('');
	let deleted = $state<Recorded | null>(null);

	const address = (id: string) => `/api/events/${eventId}/recordings/${id}`;

	function choose(id: string) {
		chosenId = id;
		fromS = toS = null;
		problem = '';
	}
	function seek(seconds: number) {
		if (player) player.currentTime = seconds;
	}
	async function send(path: string, method: string, body: unknown): Promise<boolean> {
		problem = '';
		const response = await fetch(path, {
			method,
			headers: { 'Content-Type': 'application/json' },
			body: JSON.stringify(body),
		}).catch(() => null);
		if (!response) problem = 'The server cannot be reached. Nothing was changed; try again.';
		else if (!response.ok) problem = ((await response.json()) as { message: string }).message;
		else await invalidateAll();
		return problem === '';
	}
	async function cut(recorded: Recorded) {
		chosenId = recorded.id;
		busy = 'Cutting the clip…';
		if (await send(`${address(recorded.id)}/clip`, 'POST', { fromS: fromS ?? 0, toS: toS ?? recorded.durationS }))
			fromS = toS = null;
		busy = '';
	}
	async function remove(recorded: Recorded) {
		if (await send(address(recorded.id), 'PATCH', { deleted: true })) deleted = recorded;
	}
	async function bringBack() {
		if (deleted && (await send(address(deleted.id), 'PATCH', { deleted: false }))) deleted = null;
	}
</script>

<main class="mx-auto grid max-w-6xl gap-6 p-6">
	<header class="flex flex-wrap items-baseline gap-4">
		<h1 class="text-2xl font-bold">{title}: recordings</h1>
		<a class="ml-auto underline" href="/events/{eventId}">Desk</a>
		<a class="underline" href="/">All events</a>
	</header>
	{#if deleted}
		<p role="status" class="flex items-center gap-4 rounded-sm border border-gray-300 bg-white p-3">
			The recording of {format(deleted.startedAt, 'd MMM, HH:mm')} was deleted. Its file is kept for a day.
			<button class="rounded-sm border border-ink px-3 py-1 font-semibold" onclick={bringBack}>Undo</button>
		</p>
	{/if}
	{#if problem}<p role="alert" class="rounded-sm border-l-8 border-lamp bg-white p-3 font-semibold">{problem}</p>{/if}
	{#if recordings.length === 0}
		<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">
			Nothing was recorded yet. The program is recorded by itself while the event is on air.
		</p>
	{/if}
	{#if chosen}
		{@const { id, durationS, markers, running } = chosen}
		<section class="grid gap-4 lg:grid-cols-[minmax(0,1fr)_18rem]" aria-label="The chosen recording">
			<div class="grid content-start gap-3">
				<video bind:this={player} class="aspect-video w-full bg-ink" controls preload="metadata" src={address(id)}>
					<track kind="captions" label="Takes and markers" src="{address(id)}/chapters" />
				</video>
				<div class="flex flex-wrap items-center gap-2">
					<button
						class="min-h-11 rounded-sm border border-ink px-3 font-semibold"
						onclick={() => (fromS = player?.currentTime ?? 0)}
						>Clip from here{fromS === null ? '' : `: ${clockOf(fromS)}`}</button
					>
					<button
						class="min-h-11 rounded-sm border border-ink px-3 font-semibold"
						onclick={() => (toS = player?.currentTime ?? durationS)}
						>to here{toS === null ? '' : `: ${clockOf(toS)}`}</button
					>
					<button
						class="min-h-11 rounded-sm bg-ink px-4 font-semibold text-paper disabled:opacity-40"
						disabled={busy !== '' || running || (fromS === null && toS === null) || (fromS ?? 0) >= (toS ?? durationS)}
						onclick={() => void cut(chosen)}>{busy || 'Cut the clip'}</button
					>
					<span class="text-sm text-gray-600">At once, from the key frame before: up to 2 s earlier.</span>
				</div>
				<div class="flex flex-wrap gap-x-5 gap-y-2">
					<a class="underline" href="{address(id)}?download">Download</a>
					<a class="underline" href="{address(id)}/sound">Sound only (M4A)</a>
					<a class="underline" href="{address(id)}/chapters">Chapters (WebVTT)</a>
					<a class="underline" href="{address(id)}/log">What happened (CSV)</a>
				</div>
			</div>
			<section aria-labelledby="moments">
				<h2 id="moments" class="mb-1 font-semibold">Takes and markers</h2>
				<ol class="grid max-h-[26rem] overflow-y-auto rounded-sm border border-gray-300 bg-white">
					{#each markers as { atS, kind, text }, i (i)}
						<li>
							<button
								class="flex w-full gap-3 px-3 py-2 text-left hover:bg-gray-100 {kind === 'marker' ? 'font-bold' : ''}"
								onclick={() => seek(atS)}
								><span class="figures">{clockOf(atS)}</span><span class="min-w-0 truncate"
									>{kind === 'marker' ? '◆ ' : ''}{text}</span
								></button
							>
						</li>
					{:else}
						<li class="p-3 text-gray-600">None. The key M on the desk sets a marker while on air.</li>
					{/each}
				</ol>
			</section>
		</section>
	{/if}
	{#if recordings.length > 0}
		<section aria-labelledby="all">
			<h2 id="all" class="mb-2 text-lg font-semibold">All recordings</h2>
			<ul class="grid gap-2">
				{#each recordings as recorded (recorded.id)}
					<li
						class="flex flex-wrap items-center gap-4 rounded-sm border bg-white p-3 {recorded.id === chosen?.id
							? 'border-2 border-ink'
							: 'border-gray-300'}"
					>
						<button
							class="min-h-11 min-w-0 flex-1 text-left font-semibold"
							disabled={recorded.missing}
							aria-current={recorded.id === chosen?.id}
							onclick={() => choose(recorded.id)}
						>
							{format(recorded.startedAt, 'EEEE d MMMM, HH:mm:ss')}
							<span class="block truncate text-sm font-normal text-gray-600"
								>{recorded.kind === 'clip' ? 'Clip, ' : ''}{recorded.file}</span
							>
						</button>
						<span class="figures">{clockOf(recorded.durationS)}</span>
						<span class="figures">{bytesOf(recorded.bytes)}</span>
						{#if recorded.running}<strong>recording now</strong>
						{:else if recorded.missing}<strong>its file is gone</strong>
						{:else}
							<button class="min-h-11 rounded-sm border border-gray-400 px-3" onclick={() => void remove(recorded)}
								>Delete</button
							>
						{/if}
					</li>
				{/each}
			</ul>
		</section>
	{/if}
</main>

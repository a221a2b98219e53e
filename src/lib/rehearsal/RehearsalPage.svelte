<script lang="ts">
	/** What viewers of a destination would see and hear of a rehearsal. */
	import type Hls from 'hls.js';
	import { onMount } from 'svelte';
	import Crumbs from '../ui/Crumbs.svelte';

	interface Props {
		eventId: string;
		title: string;
		destination: { id: string; name: string };
	}
	let { eventId, title, destination }: Props = $props();

	interface Status {
		isReceiving: boolean;
		isPlayable: boolean;
		delayS: number;
	}
	const ASK_EVERY_MS = 1000;
	const address = $derived(`/api/events/${eventId}/rehearsal/${destination.id}`);
	let status = $state.raw<Status | null>(null);
	let video = $state<HTMLVideoElement | null>(null);
	let player: Hls | null = null;

	const sentence = $derived(
		status === null
			? 'The server cannot be reached. This page keeps trying.'
			: status.isReceiving
				? 'Live now.'
				: 'Nothing is sent now. This page starts by itself.',
	);

	async function play() {
		const { default: Player, Events } = await import('hls.js');
		if (!video || player) return;
		const made = (player = new Player({ liveSyncDurationCount: 3 }));
		made.on(Events.ERROR, (_, { fatal }) => {
			if (!fatal) return;
			made.destroy();
			player = null;
		});
		made.loadSource(`${address}/live.m3u8`);
		made.attachMedia(video);
	}

	async function ask() {
		const response = await fetch(address).catch(() => null);
		status = response?.ok ? ((await response.json()) as Status) : null;
		if (status?.isReceiving && status.isPlayable && !player) await play();
	}

	onMount(() => {
		void ask();
		const timer = setInterval(() => void ask(), ASK_EVERY_MS);
		return () => {
			clearInterval(timer);
			player?.destroy();
		};
	});
</script>

<main class="mx-auto grid max-w-4xl gap-4 p-6">
	<header class="grid gap-1">
		<Crumbs pages={[{ name: `Desk of ${title}`, href: `/events/${eventId}` }, { name: 'Rehearsal' }]} />
		<h1 class="text-2xl font-bold">Rehearsal for {destination.name}</h1>
		<p class="text-gray-600">What viewers would see and hear. Nobody else does.</p>
	</header>
	<!-- svelte-ignore a11y_media_has_caption -->
	<video bind:this={video} class="aspect-video w-full bg-ink" controls muted autoplay playsinline></video>
	<p role="status">
		{sentence}
		{#if status?.isReceiving && status.delayS > 0}
			It is about {status.delayS} to {status.delayS + 4} seconds behind the desk, as it is at a host.
		{/if}
	</p>
</main>

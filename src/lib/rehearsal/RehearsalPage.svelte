<script lang="ts">
	/** What viewers of a destination would see and hear of a rehearsal. */
	import type Hls from 'hls.js';
	import { onMount } from 'svelte';
	import Crumbs from '../ui/Crumbs.svelte';
	import { rehearsal as words } from '../words/index.ts';

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
	/** Undefined until the server was asked, null while it does not answer. */
	let status = $state.raw<Status | null | undefined>(undefined);
	let video = $state<HTMLVideoElement | null>(null);
	let player: Hls | null = null;

	const sentence = $derived.by(() => {
		if (status === undefined) return '';
		if (status === null) return words.unreachable;
		return status.isReceiving ? words.live : words.waiting;
	});

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
		<Crumbs pages={[{ name: words.deskOf(title), href: `/events/${eventId}` }, { name: words.rehearsalPage }]} />
		<h1 class="text-2xl font-bold">{words.rehearsal(destination.name)}</h1>
		<p class="text-gray-600">{words.whatViewersWouldSeeHear}</p>
	</header>
	<video bind:this={video} class="aspect-video w-full bg-ink" controls muted autoplay playsinline></video>
	<p role="status">
		{sentence}
		{#if status?.isReceiving && status.delayS > 0}
			{words.aboutSecondsBehindDeskAs(status.delayS, status.delayS + 4)}
		{/if}
	</p>
</main>

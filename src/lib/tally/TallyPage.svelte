<script lang="ts">
	/** For whoever stands behind a camera: whether viewers see it, in one colour and one word, read in the sun and in the dark. */
	import { onMount, untrack } from 'svelte';
	import { camerasOf, tallyChangesAt, tallyOf } from '../../core/show/tally/tally.ts';
	import CrewInbox from '../crew/CrewInbox.svelte';
	import CrewSay from '../crew/CrewSay.svelte';
	import HearDesk from '../crew/HearDesk.svelte';
	import { provideSession } from '../show/context.ts';
	import Opening from '../show/Opening.svelte';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import { viewsOf } from '../show/watched-views.ts';
	import WatchedPicture from '../show/WatchedPicture.svelte';
	import { stayAwake } from '../ui/awake.ts';
	import Button from '../ui/Button.svelte';
	import { beDark } from '../ui/dark.ts';
	import { tally as words } from '../words/index.ts';

	interface Props {
		eventId: string;
	}
	let { eventId }: Props = $props();

	const session = provideSession(new ShowSession(untrack(() => eventId)));
	const views = viewsOf(untrack(() => eventId));
	const show = $derived(session.show.state);
	onMount(beDark);
	onMount(stayAwake);
	onMount(() => () => session.close());

	/** The camera of whoever looks; kept on this phone. */
	const key = untrack(() => `bivvo-camera-${eventId}`);
	let cameraId = $state(localStorage.getItem(key));
	const camera = $derived((show && camerasOf(show.setup).find(({ id }) => id === cameraId)) ?? null);
	function choose(id: string | null) {
		cameraId = id;
		if (id === null) localStorage.removeItem(key);
		else localStorage.setItem(key, id);
	}

	/** A transition that is over changes the tally without anybody saying so. */
	let overAt = $state(0);
	$effect(() => {
		const at = show && tallyChangesAt(show, session.show.now);
		if (!at) return;
		const timer = setTimeout(() => (overAt = at), at - session.show.now);
		return () => clearTimeout(timer);
	});
	const stands = $derived(show && camera ? tallyOf(show, camera.id, Math.max(overAt, session.show.now)) : 'free');
	const isKnown = $derived(session.show.connected);

	let last = 'free';
	$effect(() => {
		if (isKnown && stands === 'program' && last !== 'program') navigator.vibrate?.([250]);
		last = stands;
	});
	const LOOK = {
		program: 'bg-[#d40000] text-white',
		next: 'bg-lamp text-ink',
		free: 'bg-ink text-gray-300',
	} as const;
	const WORD = $derived({
		program: session.isOnAir ? words.onAir : words.program,
		next: words.next,
		free: words.free,
	});
	let says = $state(false);
</script>

{#if !show}
	<Opening what={words.page} gone={session.show.gone} />
{:else if !camera}
	<main class="grid min-h-dvh content-start gap-3 bg-ink p-4 text-paper">
		<h1 class="text-2xl font-bold">{words.which}</h1>
		<p class="text-gray-300">{cameraId === null ? words.whichHint : words.gone}</p>
		<ul class="grid gap-2">
			{#each camerasOf(show.setup) as { id, name } (id)}
				<li><Button size="lg" class="min-h-16 w-full" onclick={() => choose(id)}>{name}</Button></li>
			{:else}
				<li>{words.none}</li>
			{/each}
		</ul>
	</main>
{:else}
	<main
		class="grid min-h-dvh grid-cols-1 grid-rows-[auto_minmax(0,1fr)_auto] gap-2 p-3 {isKnown
			? LOOK[stands]
			: 'bg-ink text-paper outline-8 -outline-offset-8 outline-lamp outline-dashed'}"
		data-tally={isKnown ? stands : 'unknown'}
	>
		<header class="flex items-center justify-between gap-2">
			<strong class="min-w-0 truncate text-2xl">{camera.name}</strong>
			<Button size="touch" onclick={() => choose(null)}>{words.other}</Button>
		</header>
		<div class="grid place-content-center justify-items-center text-center" role="status">
			{#if isKnown}
				<p class="text-[22vw] leading-none font-bold portrait:text-[20vw]">{WORD[stands]}</p>
			{:else}
				<p class="text-[12vw] leading-none font-bold">{words.lost}</p>
				<p class="mt-2 max-w-prose text-lg">{words.lostHint}</p>
			{/if}
		</div>
		<footer class="grid gap-2">
			<CrewInbox place={{ page: 'tally', sourceId: camera.id }} reader={camera.name} />
			<div class="flex flex-wrap items-end gap-2">
				<WatchedPicture {views} view="program" label={words.picture} class="aspect-video w-40 bg-black" />
				<HearDesk />
				<Button size="touch" aria-expanded={says} onclick={() => (says = !says)}>{words.write}</Button>
			</div>
			{#if says}
				<div class="rounded-sm bg-ink p-2 text-paper"><CrewSay from={camera.name} toAll /></div>
			{/if}
		</footer>
	</main>
{/if}

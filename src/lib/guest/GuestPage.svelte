<script lang="ts">
	/** The page of somebody who takes part by video. */
	import { onMount, untrack } from 'svelte';
	import type { StandInDevices } from '../../engine/guests/stand-in-guest.ts';
	import Button from '../ui/Button.svelte';
	import { guest as words } from '../words/index.ts';
	import { provideGuest } from './context.ts';
	import { GuestSession } from './guest-session.svelte.ts';
	import InRoom from './InRoom.svelte';
	import OwnRecordingLine from './OwnRecordingLine.svelte';
	import Ready from './Ready.svelte';

	interface Props {
		eventId: string;
		guestId: string;
		title: string;
		/** As whoever made the link calls the guest. */
		name: string;
		/** Devices in place of the browser's own. */
		standIn?: StandInDevices | null;
	}
	let { eventId, guestId, title, name, standIn = null }: Props = $props();
	const session = provideGuest(untrack(() => new GuestSession(eventId, guestId, name, { standIn })));

	onMount(() => {
		const dark = matchMedia('(prefers-color-scheme: dark)');
		const follow = () => document.documentElement.classList.toggle('dark', dark.matches);
		follow();
		dark.addEventListener('change', follow);
		void session.prepare();
		void session.check.checkLine();
		return () => {
			dark.removeEventListener('change', follow);
			session.close();
		};
	});
</script>

<svelte:window
	onpagehide={() => session.close()}
	onbeforeunload={(event) => session.own?.isBusy && event.preventDefault()}
/>

<main class="mx-auto grid min-h-dvh max-w-5xl content-start gap-4 p-4 dark:text-paper">
	<h1 class="text-xl font-bold">{session.title || title}</h1>
	{#if session.ended}
		<section class="grid max-w-xl gap-3" role="status">
			<h2 class="text-2xl font-bold">{words.ended[session.ended]}</h2>
			<p>{words.endedHint[session.ended]}</p>
			<OwnRecordingLine />
			{#if session.ended === 'left' || session.ended === 'elsewhere'}
				<Button look="main" size="touch" class="justify-self-start" onclick={() => session.knock(session.name)}
					>{words.comeAgain}</Button
				>
			{/if}
		</section>
	{:else if session.hasKnocked}
		<InRoom />
	{:else}
		<h2 class="text-2xl font-bold">{words.checkYourself}</h2>
		<OwnRecordingLine />
		<Ready />
	{/if}
</main>

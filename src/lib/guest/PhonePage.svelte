<script lang="ts">
	/** A phone as a camera: its picture, what the camera can do, and whether it is on air. It asks nothing, and comes back by itself. */
	import { Label, Range } from 'flowbite-svelte';
	import { onMount, untrack } from 'svelte';
	import { watchBattery } from '../../engine/battery.ts';
	import { hasTorch, set, zoomOf } from '../../engine/guests/phone-camera.ts';
	import Button from '../ui/Button.svelte';
	import TrackVideo from '../ui/TrackVideo.svelte';
	import Warning from '../ui/Warning.svelte';
	import { guest as words } from '../words/index.ts';
	import { provideGuest } from './context.ts';
	import { GuestSession } from './guest-session.svelte.ts';
	import Place from './Place.svelte';

	interface Props {
		eventId: string;
		guestId: string;
		title: string;
		name: string;
	}
	let { eventId, guestId, title, name }: Props = $props();
	const session = provideGuest(untrack(() => new GuestSession(eventId, guestId, name, { isPhone: true })));
	const zoom = $derived(session.camera && zoomOf(session.camera));
	const canLight = $derived(session.camera !== null && hasTorch(session.camera));
	let isLit = $state(false);

	onMount(() => {
		void session.prepare().then(() => session.knock(name));
		const leave = watchBattery(({ charge, isFed }) => session.setBattery(isFed ? null : charge));
		return () => {
			leave();
			session.close();
		};
	});
	async function turn() {
		isLit = false;
		await session.turnCamera();
	}
	async function light() {
		if (!session.camera) return;
		await set(session.camera, { torch: !isLit });
		isLit = !isLit;
	}
	const LIT = 'flex-1 min-w-24 aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper';
</script>

<svelte:window onpagehide={() => session.close()} />

<main class="mx-auto grid min-h-dvh max-w-5xl content-start gap-3 p-3 dark:text-paper">
	<h1 class="font-bold">{words.phoneIs(name, session.title || title)}</h1>
	{#if session.ended}
		<section class="grid gap-3" role="status">
			<h2 class="text-2xl font-bold">{words.ended[session.ended]}</h2>
			<p>{words.endedHint[session.ended]}</p>
			{#if session.ended === 'left' || session.ended === 'elsewhere'}
				<Button look="main" size="touch" onclick={() => session.knock(name)}>{words.comeAgain}</Button>
			{/if}
		</section>
	{:else}
		<Place />
		<div class="aspect-video w-full overflow-hidden rounded-sm bg-black">
			{#if session.camera}
				{#key session.camera}<TrackVideo track={session.camera} label={words.yourPicture} class="size-full" />{/key}
			{/if}
		</div>
		{#if session.problems.camera}
			<Warning urgent>{words.problem.camera[session.problems.camera]}</Warning>
			<Button size="touch" onclick={() => void session.prepare()}>{words.tryAgain}</Button>
		{/if}
		{#if session.check.pictureAdvice === 'covered'}<Warning>{words.phoneCovered}</Warning>{/if}
		<div class="flex flex-wrap gap-2">
			<Button size="touch" class={LIT} onclick={() => void turn()}>{words.otherCamera}</Button>
			<Button
				size="touch"
				class={LIT}
				aria-pressed={!session.muted}
				disabled={!session.microphone}
				onclick={() => session.setMuted(!session.muted)}>{session.muted ? words.withoutSound : words.withSound}</Button
			>
			{#if canLight}
				<Button size="touch" class={LIT} aria-pressed={isLit} onclick={() => void light()}>{words.torch}</Button>
			{/if}
		</div>
		{#if zoom}
			<Label>
				{words.zoom}
				<Range
					class="min-h-11"
					min={zoom.min}
					max={zoom.max}
					step={zoom.step}
					value={zoom.now}
					oninput={({ currentTarget }) => void set(session.camera!, { zoom: currentTarget.valueAsNumber })}
				/>
			</Label>
		{/if}
		<p class="text-sm">{words.phoneHint}</p>
	{/if}
</main>

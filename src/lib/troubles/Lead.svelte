<script lang="ts">
	/** While nothing is wrong: the next thing to do before an evening, or the way to what is left of it. */
	import { nextStep } from '../../core/show/next-step.ts';
	import CheckCard from '../check/CheckCard.svelte';
	import type { DeskSession } from '../desk/desk-session.svelte.ts';
	import Button from '../ui/Button.svelte';
	import { troubles as words } from '../words/index.ts';
	import { goto } from '$app/navigation';

	interface Props {
		desk: DeskSession;
	}
	let { desk }: Props = $props();

	const show = $derived(desk.state);
	const step = $derived(nextStep(show));
	function toDestinations() {
		desk.showLeft('setUp');
		if (!desk.isDesk) void goto(`/events/${desk.eventId}`);
	}
	const LEADS = {
		camera: { text: words.leadCamera, name: words.addCamera, act: () => (desk.adding = true) },
		sound: { text: words.leadSound, name: words.addSound, act: () => (desk.adding = true) },
		destination: { text: words.leadDestination, name: words.chooseDestination, act: toDestinations },
	};
</script>

{#if step === 'after'}
	<span class="flex-1">{words.broadcastOver}</span>
	<Button size="sm" href="/events/{desk.eventId}/recordings">{words.toRecording}</Button>
	<Button size="sm" href="/events/{desk.eventId}/report/{show.live.broadcast!.id}">{words.toReport}</Button>
{:else if step}
	{@const { text, name, act } = LEADS[step]}
	<span class="flex-1">{text}</span>
	<Button size="sm" look="main" onclick={act}>{name}</Button>
{:else}
	<span class="flex-1">{words.nothingWrong}</span>
	{#if !desk.isOnAir}<CheckCard />{/if}
{/if}

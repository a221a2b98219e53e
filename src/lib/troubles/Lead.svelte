<script lang="ts">
	/** While nothing is wrong: the next thing to do before an evening, or the way to what is left of it. It can be left at any step. */
	import { untrack } from 'svelte';
	import { FIRST_STEPS, nextStep } from '../../core/show/next-step.ts';
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
	/** Kept on this machine. */
	const key = untrack(() => `bivvo-unled-${desk.eventId}`);
	let isLeft = $state(localStorage.getItem(key) !== null);
	function leave() {
		localStorage.setItem(key, 'yes');
		isLeft = true;
	}
	const step = $derived.by(() => {
		const next = nextStep(show);
		return isLeft && next !== 'after' ? null : next;
	});
	const number = $derived(FIRST_STEPS.findIndex((each) => each === step) + 1);
	const event = $derived(`/events/${desk.eventId}`);
	function toDestinations() {
		if (!desk.isDesk) return void document.querySelector('#destinations')?.scrollIntoView();
		desk.showLeft('setUp');
	}
	const LEADS = {
		camera: { text: words.leadCamera, name: words.addCamera, act: () => (desk.adding = true) },
		sound: { text: words.leadSound, name: words.addSound, act: () => (desk.adding = true) },
		destination: { text: words.leadDestination, name: words.chooseDestination, act: toDestinations },
		take: {
			text: words.leadTake,
			name: words.takeFirst,
			act: () => void desk.do({ type: 'take', sceneId: show.live.next ?? show.setup.scenes[0]?.id ?? undefined }),
		},
		rehearse: { text: words.leadRehearse, name: words.rehearse, act: () => void goto(`${event}#rehearse`) },
	};
</script>

{#if step === 'after'}
	<span class="flex-1">{words.broadcastOver}</span>
	<Button size="sm" href="{event}/recordings">{words.toRecording}</Button>
	<Button size="sm" href="{event}/report/{show.live.broadcast!.id}">{words.toReport}</Button>
{:else if step}
	{@const { text, name, act } = LEADS[step]}
	<span class="flex-1" data-lead={step}>{words.leadStep(number, FIRST_STEPS.length)} {text}</span>
	<Button size="sm" look="main" onclick={act}>{name}</Button>
	<Button size="sm" onclick={leave}>{words.leaveLead}</Button>
{:else}
	<span class="flex-1">{words.nothingWrong}</span>
	{#if !desk.isOnAir}<CheckCard />{/if}
{/if}

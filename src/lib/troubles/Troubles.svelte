<script lang="ts">
	import { onMount, type Snippet } from 'svelte';
	import { holdingCard } from '../../core/show/delivery/delivery.ts';
	import { findTroubles, type What } from '../../core/show/troubles.ts';
	import type { DeskSession } from '../desk/desk-session.svelte.ts';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import { guideWords, wordsFor } from '../words/index.ts';
	import { troubles as words } from '../words/index.ts';
	import { Alarm, isQuiet, setQuiet } from './alarm.ts';
	import { guidePlace } from './guide-place.ts';

	interface Props {
		/** True where somebody has only the sound to care for. */
		onlySound?: boolean;
		/** The desk's session, where this is the desk. */
		desk?: DeskSession | null;
		/** What stands there while nothing is wrong. */
		quietly?: Snippet;
	}
	let { onlySound = false, desk = null, quietly }: Props = $props();
	const session = useSession();
	const show = $derived(session.state);

	interface Trouble {
		key: string;
		text: string;
		/** Where the guide is about it. */
		help: string;
		act: { name: string; do: () => void } | null;
		isGrave: boolean;
	}

	let now = $state(Date.now());
	$effect(() => {
		const timer = setInterval(() => (now = Date.now()), 1000);
		return () => clearInterval(timer);
	});

	/** What can be done about it by a press here. */
	function actOf(what: What<unknown, unknown>): Trouble['act'] {
		switch (what.is) {
			case 'watching':
				return desk && { name: words.makeProgramHere, do: () => desk.takeOver() };
			case 'needsPress':
				return desk && { name: words.startSoundAndPicture, do: () => void desk.wake() };
			case 'notPublic': {
				const { destinationId } = what;
				return { name: words.makePublic, do: () => session.show.post({ type: 'makePublic', destinationId }) };
			}
			case 'refused':
			case 'lost': {
				const { destinationId } = what;
				return { name: words.tryAgain, do: () => session.show.post({ type: 'retry', destinationId }) };
			}
			default:
				return null;
		}
	}

	const troubles = $derived.by(() => {
		const found = findTroubles({
			show,
			status: session.show.status,
			connected: session.show.connected,
			isWatching: session.isWatching && (desk?.isDesk ?? true),
			needsPress: desk?.needsPress ?? false,
			engine: desk?.troubles ?? {},
			conditions: desk?.conditions ?? new Map(),
			heard: session.heard,
			guests: session.show.guests,
			blackMs: desk?.blackMs ?? 0,
			onlySound,
			now,
			clockOffsetMs: session.show.clockOffsetMs,
		});
		const { holdMinutes } = show.setup.delivery;
		const context = { now, holdingCard: holdingCard(show.setup).name, holdMinutes };
		return found
			.map((what): Trouble => ({
				key: what.key,
				isGrave: what.isGrave,
				text: wordsFor(what, context),
				help: guidePlace(what.is),
				act: actOf(what),
			}))
			.filter(({ text }) => text !== '');
	});

	/** Nothing on the page moves from under a finger: lines come and go when it is lifted. */
	let pressed = $state(false);
	/** After the click that the lifting makes. */
	const lift = () => setTimeout(() => (pressed = false));
	let shown = $state.raw<Trouble[]>([]);
	$effect(() => {
		if (!pressed) shown = troubles;
	});

	/** One at a time calls. */
	const grave = $derived(session.isOnAir && !onlySound ? troubles.find(({ isGrave }) => isGrave) : undefined);
	let quiet = $state(false);
	let alarm = $state.raw<Alarm | null>(null);
	onMount(() => {
		quiet = isQuiet();
		alarm = new Alarm();
		return () => alarm?.close();
	});
	$effect(() => alarm?.raise(grave?.key ?? '', grave?.text ?? ''));
</script>

<svelte:window
	onpointerdowncapture={() => (pressed = true)}
	onpointerupcapture={lift}
	onpointercancelcapture={lift}
	onblur={lift}
/>

<!-- The first line has its place also while there is none, so that the desk stays where it is. -->
{#if shown.length === 0}
	<div
		class="flex h-10 items-center gap-2 border-b border-l-8 border-slate-rule border-l-transparent px-3 text-gray-300"
	>
		{#if quietly}{@render quietly()}{:else}{onlySound ? words.nothingWrongWithSound : words.nothingWrong}{/if}
	</div>
{/if}
<div role="alert">
	<!-- Pictures need the room: several stand side by side, and what is cut shows that there is more. -->
	<ul class="grid max-h-[6.25rem] overflow-y-auto {shown.length > 1 ? 'sm:grid-cols-2' : ''}">
		{#each shown as { key, text, act, help } (key)}
			<li
				class="flex min-h-10 items-center gap-3 last:odd:col-span-full border-b border-slate-rule border-l-8 border-l-lamp bg-gray-700 px-3 font-semibold"
				data-trouble={key}
			>
				<span class="flex-1 {shown.length > 1 ? 'text-sm leading-tight' : ''}">{text}</span>
				{#if key === grave?.key}
					<Button
						size="sm"
						class="my-1"
						aria-pressed={quiet}
						hint={words.alarmHeardOnMachineOnly}
						onclick={() => setQuiet((quiet = !quiet))}>{quiet ? words.alarmSilent : words.silenceAlarm}</Button
					>
				{/if}
				<a class="text-sm font-normal underline" href={help} target="_blank" rel="noreferrer"
					>{guideWords.whatWasThat}</a
				>
				{#if act}<Button size="sm" class="my-1" onclick={act.do}>{act.name}</Button>{/if}
			</li>
		{/each}
	</ul>
</div>

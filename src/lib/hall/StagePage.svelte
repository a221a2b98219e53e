<script lang="ts">
	/** The screen that those see who sing: the line now, the line next, the time and what is left of the current cue. */
	import { onMount, untrack } from 'svelte';
	import { timeOfDay } from '../../core/show/runsheet/clock-time.ts';
	import { currentCue, following } from '../../core/show/runsheet/order.ts';
	import { comingStep, onStream } from '../../core/show/words/standing.ts';
	import CrewInbox from '../crew/CrewInbox.svelte';
	import { provideSession } from '../show/context.ts';
	import { useNow } from '../show/now.svelte.ts';
	import Opening from '../show/Opening.svelte';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import { stayAwake } from '../ui/awake.ts';
	import { clockOf, crew as crewWords, hall as words } from '../words/index.ts';

	interface Props {
		eventId: string;
	}
	let { eventId }: Props = $props();

	const session = provideSession(new ShowSession(untrack(() => eventId)));
	onMount(stayAwake);
	onMount(() => () => session.close());
	const show = $derived(session.show.state);
	const time = useNow(session.show);
	const line = $derived(show && onStream(show));
	const coming = $derived(show && comingStep(show));
	const cue = $derived(show && currentCue(show));
	const leftMs = $derived.by(() => {
		const comes = show && following(show);
		return comes?.is === 'over' ? comes.at - time.now : null;
	});
	const textOf = (rows: readonly { text: string; language: 0 | 1 }[]) => rows.filter(({ language }) => language === 0);
</script>

{#if show}
	<main class="grid h-dvh grid-rows-[auto_minmax(0,1fr)_auto] gap-[2vh] overflow-hidden bg-ink p-[3vw] text-paper">
		<header class="flex items-baseline gap-[3vw] text-[3.2vw] text-gray-300">
			<span class="min-w-0 flex-1 truncate">{cue?.name ?? show.setup.title}</span>
			{#if leftMs !== null}<span class="figures" role="timer"
					>{clockOf(Math.max(0, Math.ceil(leftMs / 1000)))} {words.left}</span
				>{/if}
			<span class="figures text-paper">{timeOfDay(time.now, show.setup.timeZone).slice(0, 5)}</span>
		</header>
		<CrewInbox
			place={{ page: 'stage', sourceId: null }}
			reader={crewWords.places.stage}
			silent
			class="fixed inset-x-[3vw] top-[12vh] z-10"
		/>
		<section class="grid content-center" aria-label={words.now} aria-live="polite">
			{#each textOf(line?.rows ?? []) as { text }, i (i)}
				<p class="text-[5.6vw] leading-tight font-bold text-balance">{text}</p>
			{:else}
				<p class="text-[4vw] text-gray-300">{words.nothing}</p>
			{/each}
		</section>
		<section class="border-t-4 border-double border-lamp pt-[2vh]" aria-label={words.next}>
			<p class="text-[2.4vw] text-lamp">{words.next}</p>
			{#each textOf(coming?.step.rows ?? []) as { text }, i (i)}
				<p class="text-[4vw] leading-tight text-balance">{text}</p>
			{:else}
				<p class="text-[4vw] leading-tight text-gray-300">{words.over}</p>
			{/each}
		</section>
	</main>
{:else}
	<Opening what={words.page} gone={session.show.gone} />
{/if}

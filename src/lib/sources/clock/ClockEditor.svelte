<script lang="ts">
	/** What a clock shows, and its start and stop. */
	import { Input } from 'flowbite-svelte';
	import { MOST_TEXT_LETTERS } from '../../../core/show/basics.ts';
	import type { Clock } from '../../../core/show/sources/kinds/clock.ts';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import { useSession } from '../../show/context.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import NumberField from '../../ui/NumberField.svelte';
	import { kinds as words } from '../../words/index.ts';
	import AroundCard from '../AroundCard.svelte';
	import DressFields from '../DressFields.svelte';
	import type { EditorProps } from '../kind.ts';

	let { source, show, onchange }: EditorProps<SourceOf<'clock'>> = $props();

	const session = useSession();
	const clock = $derived(source.clock);
	const set = (next: Clock) => onchange({ ...source, clock: next });
	const SHOWS = {
		time: words.timeDay,
		countdownTo: words.timeLeftMoment,
		countdown: words.countdownStartedByHand,
		countUp: words.timeSinceStarted,
	} as const;
	function choose(shows: Clock['shows']) {
		if (shows === 'time') set({ shows });
		else if (shows === 'countdownTo') set({ shows, to: '' });
		else if (shows === 'countdown') set({ shows, durationS: 300, startedAt: null });
		else set({ shows, startedAt: null });
	}
</script>

<section class="grid gap-1">
	<h3 class="font-semibold">{words.whatShows}</h3>
	<ChoiceField label={words.whatClockShows} value={clock.shows} choices={choicesOf(SHOWS)} onchange={choose} />
	{#if clock.shows === 'countdownTo'}
		<Input
			size="sm"
			type="datetime-local"
			aria-label={words.moment}
			value={clock.to}
			onchange={({ currentTarget }) => set({ ...clock, to: currentTarget.value })}
		/>
	{:else if clock.shows === 'countdown' || clock.shows === 'countUp'}
		{#if clock.shows === 'countdown'}
			<NumberField
				label={words.length}
				min={1}
				max={86_400}
				unit="s"
				value={clock.durationS}
				onchange={(durationS) => set({ ...clock, durationS: Math.round(durationS) })}
			/>
		{/if}
		<Button onclick={() => set({ ...clock, startedAt: clock.startedAt === null ? session.show.now : null })}>
			{clock.startedAt === null ? words.start : words.reset}
		</Button>
	{/if}
	<Input
		size="sm"
		aria-label={words.wordsAbove}
		placeholder={words.wordsAbovePlace}
		maxlength={MOST_TEXT_LETTERS}
		value={source.says}
		onchange={({ currentTarget }) => onchange({ ...source, says: currentTarget.value })}
	/>
	<DressFields value={source} onchange={(part) => onchange({ ...source, ...part })} />
	<AroundCard cardId={source.id} {show} />
</section>

<script lang="ts">
	/** What a clock shows, and its start and stop. */
	import { Input, Label } from 'flowbite-svelte';
	import type { Clock } from '../../../core/show/sources/kinds/clock.ts';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import NumberField from '../../ui/NumberField.svelte';
	import { kinds as words } from '../../words/index.ts';
	import type { EditorProps } from '../kind.ts';

	let { source, onchange }: EditorProps<SourceOf<'clock'>> = $props();

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
		<Button onclick={() => set({ ...clock, startedAt: clock.startedAt === null ? Date.now() : null })}>
			{clock.startedAt === null ? words.start : words.reset}
		</Button>
	{/if}
	<div class="flex justify-between">
		{#each [['paper', words.ground], ['ink', words.figures]] as const as [name, label] (name)}
			<Label class="flex items-center gap-2">
				{label}
				<Input
					size="sm"
					type="color"
					class="h-8 w-12! shrink-0 p-1"
					value={source[name]}
					onchange={({ currentTarget }) => onchange({ ...source, [name]: currentTarget.value })}
				/>
			</Label>
		{/each}
	</div>
</section>

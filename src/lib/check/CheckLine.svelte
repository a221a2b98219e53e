<script lang="ts">
	/** One line of the check: how it stands, what it says, since when, and the press that mends it. */
	import { CheckOutline, ClockOutline, CloseOutline, ExclamationCircleOutline } from 'flowbite-svelte-icons';
	import type { CheckEntry } from '../../core/line-check/entry.ts';
	import Button from '../ui/Button.svelte';
	import { check as words, checkWords, mendWords, timeOf } from '../words/index.ts';
	import { placeOf, type Mending } from './mend.svelte.ts';

	interface Props {
		entry: CheckEntry;
		eventId: string;
		mending: Mending;
		/** On paper it is there all the same. */
		hidden: boolean;
		/** What the server's clock is ahead of this machine's, milliseconds. */
		offsetMs: number;
	}
	let { entry, eventId, mending, hidden, offsetMs }: Props = $props();
	const { state: stands, what, at, mend } = $derived(entry);

	/** State is a sign and a word, never colour alone. */
	const SIGNS = {
		good: [CheckOutline, 'border-moss'],
		weak: [ExclamationCircleOutline, 'border-lamp'],
		wrong: [CloseOutline, 'border-air'],
		unseen: [ClockOutline, 'border-dashed border-gray-500'],
	} as const;
	const [Sign, edge] = $derived(SIGNS[stands]);
	const place = $derived(mend && placeOf(mend, eventId));
</script>

<li
	class="{hidden ? 'hidden print:flex' : 'flex'} items-center gap-3 border-l-8 py-2 pr-2 pl-3 {edge} {stands === 'good'
		? ''
		: 'bg-white'}"
	data-check={entry.key}
>
	<Sign class="size-5 shrink-0" aria-hidden="true" />
	<p class="min-w-0 flex-1">
		<strong class="mr-1">{words.states[stands]}.</strong>
		{checkWords(what)}
		{#if at !== null}<span class="text-sm whitespace-nowrap text-gray-600">{words.seenAt(timeOf(at - offsetMs))}</span
			>{/if}
	</p>
	{#if mend && stands !== 'good'}
		{#if place}
			<Button size="touch" class="print:hidden" href={place}>{mendWords(mend, what)}</Button>
		{:else}
			<Button
				size="touch"
				class="print:hidden"
				disabled={mending.busy !== null}
				aria-describedby={undefined}
				onclick={() => void mending.do(entry)}
				>{mending.busy === entry.key ? words.working : mendWords(mend, what)}</Button
			>
		{/if}
	{/if}
	<!-- On paper it is ticked by hand. -->
	<span class="hidden size-5 shrink-0 border-2 border-black print:block" aria-hidden="true"></span>
</li>

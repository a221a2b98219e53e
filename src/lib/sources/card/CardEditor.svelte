<script lang="ts">
	/** What a card says, line by line. */
	import { Input, Label } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { MOST_TEXT_LETTERS } from '../../../core/show/basics.ts';
	import type { Card, CardLine } from '../../../core/show/sources/kinds/card.ts';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesAmong, choicesOf } from '../../ui/choices.ts';
	import { kinds as words } from '../../words/index.ts';
	import type { EditorProps } from '../kind.ts';

	let { source, show, onchange: change }: EditorProps<SourceOf<'card'>> = $props();

	const card = $derived(source.card);
	const people = $derived(show.setup.people);
	const onchange = (next: Card) => change({ ...source, card: next });

	const LAYOUTS = { centred: words.inMiddle, left: words.atLeft, band: words.atFoot } as const;
	const SAYS = {
		text: words.ownWords,
		event: words.titleEvent,
		date: words.dateEvent,
		person: words.somebodysName,
		role: words.somebodysRole,
	} as const;
	const setLine = (at: number, line: CardLine) => onchange({ ...card, lines: card.lines.with(at, line) });
	function say(at: number, says: CardLine['says']) {
		const personId = people[0]?.id;
		if (says === 'text') setLine(at, { says, text: '' });
		else if (says === 'event' || says === 'date') setLine(at, { says });
		else if (personId) setLine(at, { says, personId });
	}
</script>

<section class="grid gap-1">
	<h3 class="font-semibold">{words.whatSays}</h3>
	{#each card.lines as line, at (at)}
		<div class="grid gap-1 rounded-sm border border-slate-rule p-1">
			<div class="flex gap-1">
				<ChoiceField
					label={words.lineSays(at + 1)}
					value={line.says}
					choices={choicesOf(SAYS).map(([value, name]) => [
						value,
						name,
						people.length > 0 || (value !== 'person' && value !== 'role'),
					])}
					onchange={(says) => say(at, says)}
				/>
				<Button
					look="icon"
					aria-label={words.removeLine(at + 1)}
					onclick={() => onchange({ ...card, lines: card.lines.toSpliced(at, 1) })}
					><TrashBinOutline class="size-4" /></Button
				>
			</div>
			{#if line.says === 'text'}
				<Input
					size="sm"
					aria-label={words.wordsLine(at + 1)}
					maxlength={MOST_TEXT_LETTERS}
					bind:value={() => line.text, (text) => setLine(at, { ...line, text: String(text) })}
				/>
			{:else if line.says === 'person' || line.says === 'role'}
				<ChoiceField
					label={words.whoInLine(at + 1)}
					value={line.personId}
					choices={choicesAmong(people)}
					onchange={(personId) => setLine(at, { ...line, personId })}
				/>
			{/if}
		</div>
	{/each}
	<Button
		size="xs"
		disabled={card.lines.length >= 6}
		onclick={() => onchange({ ...card, lines: [...card.lines, { says: 'text', text: '' }] })}>{words.addLine}</Button
	>
	<ChoiceField
		label={words.whereStands}
		value={card.layout}
		choices={choicesOf(LAYOUTS)}
		onchange={(layout) => onchange({ ...card, layout })}
	/>
	<div class="flex justify-between">
		{#each [['paper', words.ground], ['ink', words.letters]] as const as [name, label] (name)}
			<Label class="flex items-center gap-2">
				{label}
				<Input
					size="sm"
					type="color"
					class="h-8 w-12! shrink-0 p-1"
					value={card[name]}
					onchange={({ currentTarget }) => onchange({ ...card, [name]: currentTarget.value })}
				/>
			</Label>
		{/each}
	</div>
</section>

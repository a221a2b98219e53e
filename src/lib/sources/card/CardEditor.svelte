<script lang="ts">
	/** What a card says, line by line. */
	import { Input } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { MOST_TEXT_LETTERS } from '../../../core/show/basics.ts';
	import { MOST_CODE_LETTERS, type Card, type CardLine } from '../../../core/show/sources/kinds/card.ts';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesAmong, choicesOf } from '../../ui/choices.ts';
	import { kinds as words } from '../../words/index.ts';
	import AroundCard from '../AroundCard.svelte';
	import DressFields from '../DressFields.svelte';
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
		time: words.timeEvent,
		organisation: words.organisation,
		code: words.qrCode,
		person: words.somebodysName,
		role: words.somebodysRole,
	} as const;
	const setLine = (at: number, line: CardLine) => onchange({ ...card, lines: card.lines.with(at, line) });
	function say(at: number, says: CardLine['says']) {
		const personId = people[0]?.id;
		if (says === 'text' || says === 'code') setLine(at, { says, text: '' });
		else if (says === 'person' || says === 'role') {
			if (personId) setLine(at, { says, personId });
		} else setLine(at, { says });
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
			{#if line.says === 'text' || line.says === 'code'}
				<Input
					size="sm"
					aria-label={words.wordsLine(at + 1)}
					placeholder={line.says === 'code' ? words.qrPlace : ''}
					maxlength={line.says === 'code' ? MOST_CODE_LETTERS : MOST_TEXT_LETTERS}
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
	<DressFields value={card} onchange={(part) => onchange({ ...card, ...part })} />
	<AroundCard cardId={source.id} {show} />
</section>

<script lang="ts">
	/** What a card says, line by line. */
	import { Input, Label, Select } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import type { Card, CardLine } from '../../../core/show/sources/kinds/card.ts';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import Button from '../../ui/Button.svelte';
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
				<Select
					size="sm"
					placeholder=""
					aria-label={words.lineSays(at + 1)}
					value={line.says}
					onchange={({ currentTarget }) => say(at, currentTarget.value as CardLine['says'])}
				>
					{#each Object.entries(SAYS) as [value, name] (value)}
						<option {value} disabled={people.length === 0 && (value === 'person' || value === 'role')}>{name}</option>
					{/each}
				</Select>
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
					maxlength={600}
					bind:value={() => line.text, (text) => setLine(at, { ...line, text: String(text) })}
				/>
			{:else if line.says === 'person' || line.says === 'role'}
				<Select
					size="sm"
					placeholder=""
					aria-label={words.whoInLine(at + 1)}
					value={line.personId}
					onchange={({ currentTarget }) => setLine(at, { ...line, personId: currentTarget.value })}
				>
					{#each people as { id, name } (id)}<option value={id}>{name}</option>{/each}
				</Select>
			{/if}
		</div>
	{/each}
	<Button
		size="xs"
		disabled={card.lines.length >= 6}
		onclick={() => onchange({ ...card, lines: [...card.lines, { says: 'text', text: '' }] })}>{words.addLine}</Button
	>
	<Select
		size="sm"
		placeholder=""
		aria-label={words.whereStands}
		value={card.layout}
		onchange={({ currentTarget }) => onchange({ ...card, layout: currentTarget.value as Card['layout'] })}
	>
		{#each Object.entries(LAYOUTS) as [value, name] (value)}<option {value}>{name}</option>{/each}
	</Select>
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

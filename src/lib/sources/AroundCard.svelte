<script lang="ts">
	/** What stands behind a card or clock in its scenes, and the logo upon it. */
	import { Label } from 'flowbite-svelte';
	import { batchOf, type SingleCommand } from '../../core/show/command.ts';
	import { behindCard, logoOfCard, scenesOf, withBehind, withLogo } from '../../core/show/scenes/around-card.ts';
	import { kindOf } from '../../core/show/sources/source.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import { useSession } from '../show/context.ts';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import type { Choice } from '../ui/choices.ts';
	import { kinds as words } from '../words/index.ts';

	interface Props {
		cardId: string;
		show: ShowState;
	}
	let { cardId, show }: Props = $props();
	const session = useSession();

	const choices = $derived<Choice<string | null>[]>([
		[null, words.nothing],
		...show.setup.sources
			.filter((source) => source.id !== cardId && kindOf(source).brings.picture)
			.map(({ id, name }): Choice<string | null> => [id, name]),
	]);
	const change = (commands: SingleCommand[]) => void (commands.length > 0 && session.do(batchOf(commands)));
</script>

{#if scenesOf(show.setup, cardId).length > 0}
	<Label class="grid gap-1">
		{words.behind}
		<ChoiceField
			value={behindCard(show.setup, cardId)}
			{choices}
			onchange={(id) => change(withBehind(show.setup, cardId, id))}
		/>
	</Label>
	<Label class="grid gap-1">
		{words.logo}
		<ChoiceField
			value={logoOfCard(show.setup, cardId)}
			{choices}
			onchange={(id) => change(withLogo(show.setup, cardId, id))}
		/>
	</Label>
{/if}

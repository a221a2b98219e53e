<script lang="ts">
	/** What an empty seat shows. */
	import { Label } from 'flowbite-svelte';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import { kinds as words } from '../../words/index.ts';
	import type { EditorProps } from '../kind.ts';

	let { source, onchange }: EditorProps<SourceOf<'seat'>> = $props();
	const EMPTY = { nothing: words.seatNothing, card: words.seatCard, name: words.seatName } as const;
</script>

<section class="grid gap-1">
	<h3 class="font-semibold">{words.seatEmpty}</h3>
	<Label>
		{words.seatShows}
		<ChoiceField
			value={source.empty}
			choices={choicesOf(EMPTY)}
			onchange={(empty) => onchange({ ...source, empty })}
			class="mt-1"
		/>
	</Label>
	<p class="text-sm text-gray-300">{words.seatHint}</p>
</section>

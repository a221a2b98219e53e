<script lang="ts">
	/** The colour that fills the picture. */
	import { Input, Label } from 'flowbite-svelte';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import { kinds as words } from '../../words/index.ts';
	import type { EditorProps } from '../kind.ts';

	let { source, onchange }: EditorProps<SourceOf<'colour'>> = $props();
</script>

<Label class="flex items-center justify-between">
	{words.colour}
	<Input
		size="sm"
		type="color"
		class="h-8 w-14! shrink-0 p-1"
		value={source.colour}
		onchange={({ currentTarget }) => onchange({ ...source, colour: currentTarget.value })}
	/>
</Label>

<script lang="ts">
	/** Which things a template asks for each time an event is made from it. */
	import { Checkbox } from 'flowbite-svelte';
	import type { Asks } from '../../core/show/templates/template.ts';
	import { plan as words } from '../words/index.ts';

	interface Props {
		asks: Asks;
		/** Fields of its own that it can ask for. */
		fields: readonly { id: string; name: string }[];
		onchange: (asks: Asks) => void;
	}
	let { asks, fields, onchange }: Props = $props();

	const OWN = ['title', 'start', 'hostTexts'] as const;
	function tickField(id: string, ticked: boolean) {
		const rest = asks.fields.filter((each) => each !== id);
		onchange({ ...asks, fields: ticked ? [...rest, id] : rest });
	}
</script>

<fieldset class="grid gap-1">
	<legend class="mb-1 text-sm">{words.asksAnew}</legend>
	{#each OWN as what (what)}
		<Checkbox
			checked={asks[what]}
			onchange={({ currentTarget }) => onchange({ ...asks, [what]: currentTarget.checked })}
			>{words.asks[what]}</Checkbox
		>
	{/each}
	{#each fields as { id, name } (id)}
		<Checkbox checked={asks.fields.includes(id)} onchange={({ currentTarget }) => tickField(id, currentTarget.checked)}
			>{name}</Checkbox
		>
	{/each}
</fieldset>

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

	/** As ticked here, until what it began with changes: a second tick does not wait for the first to be kept. */
	let ticked = $derived(asks);

	const OWN = ['title', 'start', 'hostTexts'] as const;
	function change(part: Partial<Asks>) {
		ticked = { ...ticked, ...part };
		onchange(ticked);
	}
	function tickField(id: string, on: boolean) {
		const rest = ticked.fields.filter((each) => each !== id);
		change({ fields: on ? [...rest, id] : rest });
	}
</script>

<fieldset class="grid gap-1">
	<legend class="mb-1 text-sm">{words.asksAnew}</legend>
	{#each OWN as what (what)}
		<Checkbox checked={ticked[what]} onchange={({ currentTarget }) => change({ [what]: currentTarget.checked })}
			>{words.asks[what]}</Checkbox
		>
	{/each}
	{#each fields as { id, name } (id)}
		<Checkbox
			checked={ticked.fields.includes(id)}
			onchange={({ currentTarget }) => tickField(id, currentTarget.checked)}>{name}</Checkbox
		>
	{/each}
</fieldset>

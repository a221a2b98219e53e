<script lang="ts">
	/** Which things a template asks for each time an event is made from it. */
	import { Checkbox } from 'flowbite-svelte';
	import type { Asks } from '../../core/show/templates/template.ts';
	import { plan as words } from '../words/index.ts';

	interface Props {
		asks: Asks;
		/** Fields of its own that it can ask for. */
		fields: readonly { id: string; name: string }[];
		/** Ends when it is kept, or refused. */
		onchange: (asks: Asks) => unknown;
	}
	let { asks, fields, onchange }: Props = $props();

	/** What is being kept: a second tick does not wait for the first. Null while all is kept, or was refused. */
	let changing = $state.raw<Asks | null>(null);
	const ticked = $derived(changing ?? asks);

	const OWN = ['title', 'start', 'hostTexts'] as const;
	async function change(part: Partial<Asks>) {
		const changed = (changing = { ...ticked, ...part });
		try {
			await onchange(changed);
		} finally {
			if (changing === changed) changing = null;
		}
	}
	function tickField(id: string, on: boolean) {
		const rest = ticked.fields.filter((each) => each !== id);
		return change({ fields: on ? [...rest, id] : rest });
	}
</script>

<fieldset class="grid gap-1">
	<legend class="mb-1 text-sm">{words.asksAnew}</legend>
	{#each OWN as what (what)}
		<Checkbox checked={ticked[what]} onchange={({ currentTarget }) => void change({ [what]: currentTarget.checked })}
			>{words.asks[what]}</Checkbox
		>
	{/each}
	{#each fields as { id, name } (id)}
		<Checkbox
			checked={ticked.fields.includes(id)}
			onchange={({ currentTarget }) => void tickField(id, currentTarget.checked)}>{name}</Checkbox
		>
	{/each}
</fieldset>

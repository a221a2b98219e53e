<script lang="ts">
	/** Whose colours a drawn picture has, and whether it has a ground of its own. */
	import { Checkbox } from 'flowbite-svelte';
	import ColourField from '../ui/ColourField.svelte';
	import { kinds as words } from '../words/index.ts';

	interface Dressed {
		dress: 'own' | 'event';
		ground: 'drawn' | 'none';
		paper: string;
		ink: string;
	}
	interface Props {
		value: Dressed;
		onchange: (part: Partial<Dressed>) => void;
	}
	let { value, onchange }: Props = $props();
	const isOfEvent = $derived(value.dress === 'event');
</script>

<Checkbox checked={isOfEvent} onchange={() => onchange({ dress: isOfEvent ? 'own' : 'event' })}
	>{words.lookOfEvent}</Checkbox
>
{#if !isOfEvent}
	<div class="flex justify-between">
		{#each [['paper', words.ground], ['ink', words.letters]] as const as [name, label] (name)}
			<ColourField {label} value={value[name]} onchange={(colour) => onchange({ [name]: colour })} />
		{/each}
	</div>
{/if}
<Checkbox
	checked={value.ground === 'none'}
	onchange={() => onchange({ ground: value.ground === 'none' ? 'drawn' : 'none' })}>{words.noGround}</Checkbox
>

<script lang="ts">
	/** What is played of a file: from where to where, and how loud. */
	import NumberField from '../ui/NumberField.svelte';
	import { media as words } from '../words/index.ts';

	interface Played {
		inMs: number;
		outMs: number;
		gainDb: number;
	}
	interface Props extends Played {
		/** Length of the whole file, milliseconds. */
		lengthMs: number;
		onchange: (part: Partial<Played>) => void;
	}
	let { inMs, outMs, gainDb, lengthMs, onchange }: Props = $props();

	/** No part is shorter, seconds. */
	const SHORTEST_S = 0.1;
	const toMs = (seconds: number) => Math.round(seconds * 1000);
</script>

<NumberField
	label={words.in}
	min={0}
	max={outMs / 1000 - SHORTEST_S}
	step={0.1}
	unit={words.seconds}
	value={inMs / 1000}
	onchange={(value) => onchange({ inMs: toMs(value) })}
/>
<NumberField
	label={words.out}
	min={inMs / 1000 + SHORTEST_S}
	max={lengthMs / 1000}
	step={0.1}
	unit={words.seconds}
	value={outMs / 1000}
	onchange={(value) => onchange({ outMs: Math.min(lengthMs, toMs(value)) })}
/>
<NumberField
	label={words.gain}
	min={-60}
	max={24}
	step={0.5}
	unit={words.decibels}
	value={gainDb}
	onchange={(value) => onchange({ gainDb: value })}
/>

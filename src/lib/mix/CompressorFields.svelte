<script lang="ts">
	import { Checkbox } from 'flowbite-svelte';
	import type { CompressorSettings } from '../../core/show/mix/mix.ts';
	import SliderField from '../ui/SliderField.svelte';
	import { mix as words } from '../words/index.ts';
	import { signedDb } from './db-text.ts';

	interface Props {
		compressor: CompressorSettings;
		/** By how much it turns down now, dB, 0 or less; null when that is not known. */
		nowDb: number | null;
		onchange: (compressor: CompressorSettings) => void;
	}
	let { compressor, nowDb, onchange }: Props = $props();

	const change = (part: Partial<CompressorSettings>) => onchange({ ...compressor, ...part });
	const ms = (value: number) => `${value.toFixed(0)} ms`;
</script>

<Checkbox classes={{ div: 'font-semibold' }} checked={compressor.on} onchange={() => change({ on: !compressor.on })}
	>{words.compressorEvensOutLoudSoft}</Checkbox
>
{#if compressor.on}
	{#if nowDb !== null}<p class="figures text-xs text-gray-300">{words.nowDb(nowDb.toFixed(1))}</p>{/if}
	<SliderField
		label={words.above}
		min={-60}
		max={0}
		step={1}
		value={compressor.thresholdDb}
		text={signedDb(compressor.thresholdDb)}
		onchange={(thresholdDb) => change({ thresholdDb })}
	/>
	<SliderField
		label={words.ratio}
		min={1}
		max={20}
		step={0.5}
		value={compressor.ratio}
		text="{compressor.ratio} : 1"
		onchange={(ratio) => change({ ratio })}
	/>
	<SliderField
		label={words.attack}
		min={0.1}
		max={200}
		step={0.1}
		value={compressor.attackMs}
		text={ms(compressor.attackMs)}
		onchange={(attackMs) => change({ attackMs })}
	/>
	<SliderField
		label={words.release}
		min={10}
		max={2000}
		step={10}
		value={compressor.releaseMs}
		text={ms(compressor.releaseMs)}
		onchange={(releaseMs) => change({ releaseMs })}
	/>
	<SliderField
		label={words.makeUpGain}
		min={0}
		max={24}
		step={0.5}
		neutral={0}
		value={compressor.makeupDb}
		text={signedDb(compressor.makeupDb)}
		onchange={(makeupDb) => change({ makeupDb })}
	/>
{/if}

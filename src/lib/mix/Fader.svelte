<script lang="ts">
	/** A fader with its value; a double click brings it back to 0 dB. */
	import { mix as words } from '../words/index.ts';
	import { dbText } from './db-text.ts';

	interface Props {
		label: string;
		gainDb: number;
		/** For a finger. */
		large?: boolean;
		onchange: (gainDb: number) => void;
	}
	let { label, gainDb, large = false, onchange }: Props = $props();
</script>

<div class="flex items-center gap-2">
	<input
		type="range"
		class="min-w-0 flex-1 accent-lamp {large ? 'h-11' : 'h-4'}"
		min="-60"
		max="12"
		step="0.5"
		value={gainDb}
		aria-label={words.fader(label)}
		aria-valuetext={dbText(gainDb)}
		oninput={({ currentTarget }) => onchange(currentTarget.valueAsNumber)}
		ondblclick={() => onchange(0)}
	/>
	<span class="figures w-16 text-right text-xs text-gray-300">{dbText(gainDb)}</span>
</div>

<script lang="ts">
	/** Breaks inputs of the stand-in console, to see what the desk says of them. */
	import {} from 'flowbite-svelte';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import type { ConsoleFault } from '../../../engine/sources/stand-ins.ts';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import { kinds as words } from '../../words/index.ts';
	import type { EditorProps } from '../kind.ts';

	const _props: EditorProps<SourceOf<'standInConsole'>> = $props();

	const FAULTS = {
		none: words.nothing,
		dead: words.dead,
		clipping: words.tooLoud,
		hum: words.hums,
		late: words.lateBy180Ms,
		dropouts: words.dropsOut,
		hearsDesk: words.hearsHeadphones,
	} as const satisfies Record<ConsoleFault['fault'], string>;
	let input = $state(0);
	let broken = $state<Record<number, ConsoleFault['fault']>>({});

	async function breakIt(fault: ConsoleFault['fault']) {
		const { breakInput } = await import('../../../engine/sources/stand-ins.ts');
		breakInput({ input, fault });
		broken = { ...broken, [input]: fault };
	}
</script>

<section class="grid gap-1">
	<h3 class="font-semibold">{words.tryOutWhatCanGo}</h3>
	<p class="text-xs text-gray-300">{words.consoleMadeUpBreakInput}</p>
	<div class="grid grid-cols-2 gap-2">
		<ChoiceField
			label={words.inputConsole}
			value={input}
			choices={Array.from({ length: 12 }, (_, i) => [i, words.input(i + 1)])}
			onchange={(chosen) => (input = chosen)}
		/>
		<ChoiceField
			label={words.whatWrongWith}
			value={broken[input] ?? 'none'}
			choices={choicesOf(FAULTS)}
			onchange={(fault) => void breakIt(fault)}
		/>
	</div>
</section>

<script lang="ts">
	/** What can be set at a source of sound: what the browser does to it; at the stand-in console, what is wrong with it. */
	import type { Source } from '../../core/show/sources/source.ts';
	import type { ConsoleFault } from '../../engine/stand-ins.ts';

	interface Props {
		origin: Source['origin'];
		onchange: (origin: Source['origin']) => void;
	}
	let { origin, onchange }: Props = $props();

	const FAULTS = {
		none: 'Nothing',
		dead: 'Dead',
		clipping: 'Too loud',
		hum: 'Hums',
		late: 'Late by 180 ms',
		dropouts: 'Drops out',
		hearsDesk: 'Hears the headphones',
	} as const satisfies Record<ConsoleFault['fault'], string>;
	let input = $state(0);
	let broken = $state<Record<number, ConsoleFault['fault']>>({});

	async function breakIt(fault: ConsoleFault['fault']) {
		const { breakInput } = await import('../../engine/stand-ins.ts');
		breakInput({ input, fault });
		broken = { ...broken, [input]: fault };
	}
</script>

{#if origin.from === 'device'}
	<label class="flex items-start gap-2">
		<input
			type="checkbox"
			class="tick mt-1"
			checked={origin.cleaned}
			onchange={() => onchange({ ...origin, cleaned: !origin.cleaned })}
		/>
		<span>
			The browser cleans it: less echo and noise, even level
			<span class="block text-xs text-gray-300"
				>For a microphone on this desk. Leave it off for a console: it spoils music.</span
			>
		</span>
	</label>
{:else if origin.from === 'standIn' && origin.standIn === 'console'}
	<section class="grid gap-1">
		<h3 class="font-semibold">Try out what can go wrong</h3>
		<p class="text-xs text-gray-300">This console is made up. Break an input and see what the desk says of it.</p>
		<div class="grid grid-cols-2 gap-2">
			<select class="field w-full" aria-label="Input of the console" bind:value={input}>
				{#each Array.from({ length: 12 }, (_, i) => i) as each (each)}<option value={each}>Input {each + 1}</option
					>{/each}
			</select>
			<select
				class="field w-full"
				aria-label="What is wrong with it"
				value={broken[input] ?? 'none'}
				onchange={({ currentTarget }) => void breakIt(currentTarget.value as ConsoleFault['fault'])}
			>
				{#each Object.entries(FAULTS) as [fault, name] (fault)}<option value={fault}>{name}</option>{/each}
			</select>
		</div>
	</section>
{/if}

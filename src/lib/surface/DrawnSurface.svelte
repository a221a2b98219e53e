<script lang="ts">
	/** A control surface that is drawn: eight faders and sixteen pads, with lights. It stands in for a device. */
	import { Label, Range } from 'flowbite-svelte';
	import { onMount, untrack } from 'svelte';
	import { readMidi, writeMidi, type Control } from '../../core/surface/midi.ts';
	import Button from '../ui/Button.svelte';
	import { beDark } from '../ui/dark.ts';
	import { surface as words } from '../words/index.ts';
	import { StandInPort } from './stand-in-port.ts';

	interface Props {
		eventId: string;
		title: string;
	}
	let { eventId, title }: Props = $props();
	const [FADERS, PADS] = [8, 16];
	/** Number of the first control change, and of the first note. */
	const [FIRST_CHANGE, FIRST_NOTE] = [1, 36];

	const port = new StandInPort(
		untrack(() => eventId),
		'surface',
	);
	onMount(beDark);
	onMount(() => () => port.close());
	let faders = $state(Array<number>(FADERS).fill(0));
	let lights = $state(Array<number>(PADS).fill(0));
	port.onMessage = (bytes) => {
		const told = readMidi(bytes);
		if (!told) return;
		const { is, number } = told.control;
		if (is === 'note' && lights[number - FIRST_NOTE] !== undefined) lights[number - FIRST_NOTE] = told.position;
		if (is === 'change' && faders[number - FIRST_CHANGE] !== undefined)
			faders[number - FIRST_CHANGE] = Math.round(127 * told.position);
	};
	const pad = (i: number): Control => ({ is: 'note', channel: 0, number: FIRST_NOTE + i });
	const fader = (i: number): Control => ({ is: 'change', channel: 0, number: FIRST_CHANGE + i });
	function move(i: number, value: number) {
		faders[i] = value;
		port.send(writeMidi(fader(i), value / 127));
	}
</script>

<main class="min-h-dvh bg-ink p-6 text-paper">
	<div class="mx-auto grid max-w-3xl gap-6">
		<header>
			<h1 class="text-2xl font-bold">{title}</h1>
			<p class="text-gray-300">{words.drawnAbout}</p>
		</header>
		<div class="grid grid-cols-8 gap-2">
			{#each lights as light, i (i)}
				<Button
					class="aspect-square p-0 {light > 0.5
						? 'bg-lamp text-ink dark:bg-lamp dark:text-ink'
						: light > 0
							? 'border-4 border-double border-lamp'
							: ''}"
					aria-pressed={light > 0.5}
					aria-label={words.pad(i + 1)}
					onhold={(held) => port.send(writeMidi(pad(i), held ? 1 : 0))}>{i + 1}</Button
				>
			{/each}
		</div>
		<div class="grid gap-3">
			{#each faders as value, i (i)}
				<Label class="grid grid-cols-[6rem_minmax(0,1fr)_3rem] items-center gap-2">
					<span>{words.fader(i + 1)}</span>
					<Range
						min="0"
						max="127"
						{value}
						aria-label={words.fader(i + 1)}
						oninput={({ currentTarget }: Event & { currentTarget: HTMLInputElement }) =>
							move(i, Number(currentTarget.value))}
					/>
					<span class="figures">{value}</span>
				</Label>
			{/each}
		</div>
	</div>
</main>

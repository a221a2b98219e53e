<script lang="ts">
	/** How words look in the hall and for viewers: letters, lines at a time, languages, ground. */
	import { Modal } from 'flowbite-svelte';
	import type { HallLook } from '../../core/show/words/words.ts';
	import type { Fit } from '../../core/words/cutting.ts';
	import { useSession } from '../show/context.ts';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesOf } from '../ui/choices.ts';
	import ColourField from '../ui/ColourField.svelte';
	import NumberField from '../ui/NumberField.svelte';
	import SliderField from '../ui/SliderField.svelte';
	import { singing as words } from '../words/index.ts';

	let { open = $bindable(false) }: { open: boolean } = $props();
	const session = useSession();
	const look = $derived(session.state.setup.words.look);

	const setHall = (part: Partial<HallLook>) =>
		session.do({ type: 'setWordsLook', look: { ...look, hall: { ...look.hall, ...part } } });
	const setFit = (of: 'hall' | 'stream', part: Partial<Fit>) =>
		session.do({ type: 'setWordsLook', look: { ...look, [of]: { ...look[of], fit: { ...look[of].fit, ...part } } } });
	const languages = choicesOf(words.languages);
	const SIDES = [
		['hall', words.hall, 40, 200],
		['stream', words.stream, 30, 110],
	] as const;
	/** Letters of the stream need so much height a row. */
	const ROOM = 1.4;
</script>

<Modal bind:open title={words.look} size="lg">
	<div class="grid gap-6 sm:grid-cols-2">
		{#each SIDES as [side, name, least, most] (side)}
			{@const { fit } = look[side]}
			<section class="grid content-start gap-3" aria-label={name}>
				<h3 class="font-semibold">{name}</h3>
				<SliderField
					label={words.letters}
					min={least}
					max={most}
					step={1}
					value={fit.size}
					text={String(Math.round(fit.size))}
					onchange={(size) =>
						setFit(
							side,
							side === 'hall' ? { size } : { size, height: Math.round(ROOM * size * Math.max(1, fit.lines)) },
						)}
				/>
				<NumberField
					label={side === 'hall' ? words.rowsHall : words.rows}
					min={side === 'hall' ? 0 : 1}
					max={side === 'hall' ? 12 : 3}
					value={fit.lines}
					onchange={(lines) =>
						setFit(
							side,
							side === 'hall' ? { lines } : { lines, height: Math.round(ROOM * fit.size * Math.max(1, lines)) },
						)}
				/>
				<ChoiceField
					label={words.whichLanguages}
					value={fit.languages}
					choices={languages}
					onchange={(chosen) => setFit(side, { languages: chosen })}
				/>
			</section>
		{/each}
		<section class="grid content-start gap-3 sm:col-span-2" aria-label={words.ground}>
			<h3 class="font-semibold">{words.ground}</h3>
			<div class="flex flex-wrap gap-4">
				<ColourField label={words.paper} value={look.hall.paper} onchange={(paper) => setHall({ paper })} />
				<ColourField label={words.ink} value={look.hall.ink} onchange={(ink) => setHall({ ink })} />
			</div>
			<SliderField
				label={words.margin}
				min={0}
				max={0.2}
				step={0.01}
				value={look.hall.margin}
				text={`${Math.round(100 * look.hall.margin)} %`}
				onchange={(margin) => setHall({ margin })}
			/>
		</section>
	</div>
</Modal>

<script lang="ts">
	/** The event's picture, and what this machine makes of it: a test before the evening, and the choice that goes by it. */
	import { format } from 'date-fns';
	import { partOfGuests } from '../../core/machine/machine.ts';
	import { PICTURES } from '../../core/show/event/picture.ts';
	import { LARGEST_PICTURE, mostOfGuests, pixelsOfGuest, seatsFor } from '../../core/show/guests/guest.ts';
	import { MACHINE_TEST_S } from '../../engine/machine/machine-test.ts';
	import { useDesk } from '../desk/context.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import TimedBar from '../ui/TimedBar.svelte';
	import Warning from '../ui/Warning.svelte';
	import {
		machine as words,
		machineGuests,
		machineParts,
		machineSummary,
		machineVerdict,
		pictureName,
	} from '../words/index.ts';
	import MachineVerdict from './MachineVerdict.svelte';

	const session = useDesk();
	const { machine } = session;
	const { picture } = $derived(session.state.setup);
	const key = ({ width, fps }: { width: number; fps: number }) => `${width} ${fps}`;
	const judged = $derived(PICTURES.map((each) => ({ picture: each, judgement: machine.judge(session.state, each) })));
	const choices = $derived(
		judged.map(({ picture: each, judgement }): [string, string] => [
			key(each),
			judgement ? `${pictureName(each)}: ${machineVerdict(judgement)}` : pictureName(each),
		]),
	);
	/** Both sizes at the event's own pace. */
	const summary = $derived(
		judged.flatMap(({ picture: each, judgement }) =>
			each.fps === picture.fps && judgement ? [{ picture: each, judgement }] : [],
		),
	);

	const seats = $derived(seatsFor(session.state).length);
	const guests = $derived({
		all: machine.known ? partOfGuests(machine.known, mostOfGuests(session.state)) : 0,
		each: machine.known ? partOfGuests(machine.known, pixelsOfGuest(LARGEST_PICTURE)) : 0,
	});

	function choose(chosen: string) {
		const found = PICTURES.find((each) => key(each) === chosen);
		if (found) session.doWithUndo({ type: 'setPicture', picture: found }, words.changed(pictureName(found)));
	}
</script>

<section class="grid gap-2" aria-labelledby="machine" data-machine={machine.known ? 'tested' : 'untested'}>
	<h2 id="machine" class="text-lg font-semibold">{words.title}</h2>
	<div class="panel grid gap-2 p-3">
		<p class="text-sm text-gray-300" aria-hidden="true">{words.size}</p>
		<ChoiceField
			label={words.size}
			value={key(picture)}
			{choices}
			disabled={session.isOnAir}
			onchange={choose}
			class="max-w-lg"
		/>
		{#if session.isOnAir}<p class="text-sm text-gray-300">{words.fixedOnAir}</p>{/if}
		{#if machine.known}
			<p>{machineSummary(summary)}</p>
			<MachineVerdict onlyWarnings />
			<p>{machineGuests(seats, guests.all, guests.each)}</p>
			<p class="text-sm text-gray-300">
				{machineParts(machine.known)}
				{words.testedAt(format(machine.known.at, 'd MMM, HH:mm'))}
			</p>
		{:else if !machine.isTesting}
			<p>{words.untested}</p>
		{/if}
		{#if machine.isTesting}
			<TimedBar label={words.testing} seconds={MACHINE_TEST_S} />
			<div><Button onclick={() => machine.cancel()}>{words.cancel}</Button></div>
		{:else if session.isOnAir}
			<p class="text-sm text-gray-300">{words.notOnAir}</p>
		{:else if session.state.setup.scenes.length === 0}
			<p class="text-sm text-gray-300">{words.noScene}</p>
		{:else if session.engine}
			{@const engine = session.engine}
			<div class="flex flex-wrap items-center gap-3">
				<Button onclick={() => void machine.test(engine, session.state)}
					>{machine.known ? words.testAgain : words.test}</Button
				>
				<span class="text-sm text-gray-300">{words.about}</span>
			</div>
		{:else}
			<p class="text-sm text-gray-300">{words.elsewhere}</p>
		{/if}
		{#if machine.problem}<Warning urgent>{words.failed(machine.problem)}</Warning>{/if}
	</div>
</section>
